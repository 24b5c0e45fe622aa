import { useQuery, useQueryClient } from "@tanstack/react-query";
import { resultOf, api, type Curve, type PartialSet } from "../../api";
import type { CurveName } from "../../sound";

export interface OwnCurve {
  id: number;
  name: string;
  curve_name: CurveName;
  curve: Curve;
}

export interface OwnPartials {
  id: number;
  name: string;
  partials: PartialSet;
}

async function fetchShapes() {
  const { stock, own } = await resultOf(api.GET("/api/shapes"));
  return {
    stock: stock.map(({ name, curve }) => ({
      name,
      curve: curve as Curve & Record<string, unknown>,
    })),
    curves: own.flatMap(({ id, name, curve_name, curve }): OwnCurve[] =>
      curve_name === "partials"
        ? []
        : [{ id, name, curve_name, curve: curve as Curve & Record<string, unknown> }],
    ),
    partials: own.flatMap(({ id, name, curve_name, curve }): OwnPartials[] =>
      curve_name === "partials"
        ? [{ id, name, partials: curve as PartialSet & Record<string, unknown> }]
        : [],
    ),
  };
}

/** Stock shapes, one's own curves and sets of partials, and how to forget one. */
export function useShapes() {
  const shapes = useQuery({ queryKey: ["shapes"], queryFn: fetchShapes, staleTime: 60_000 });
  const queries = useQueryClient();
  const remove = async (id: number) => {
    const params = { path: { shape_id: id } };
    await resultOf(api.DELETE("/api/shapes/{shape_id}", { params, parseAs: "text" })).catch(
      () => null,
    );
    await queries.invalidateQueries({ queryKey: ["shapes"] });
  };
  const { stock = [], curves = [], partials = [] } = shapes.data ?? {};
  return { stock, curves, partials, remove };
}
