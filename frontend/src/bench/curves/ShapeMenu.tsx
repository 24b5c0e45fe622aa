import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronDown, X } from "lucide-react";
import { type FormEvent, useState } from "react";
import { answered, api, ApiError } from "../../api/client";
import type { Curve, Sound } from "../../api/types";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { curveOutline } from "./curveEdits";
import { type CurveName, type CurveRef, editCurve } from "./curveRef";
import { asKind, shapeFitted } from "./curveTools";

interface Props {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
}

interface OwnShape {
  id: number;
  name: string;
  curve_name: CurveName;
  curve: Curve;
}

async function fetchShapes() {
  const { stock, own } = await answered(api.GET("/api/shapes"));
  return {
    stock: stock.map(({ name, curve }) => ({ name, curve: curve as unknown as Curve })),
    own: own.map((one): OwnShape => ({ ...one, curve: one.curve as unknown as Curve })),
  };
}

/** Curves to start from: the stock at this curve's length and range, one's own as they were kept. */
export function ShapeMenu({ sound, curveRef, curve }: Props) {
  const shapes = useQuery({ queryKey: ["shapes"], queryFn: fetchShapes, staleTime: 60_000 });
  const queries = useQueryClient();
  const [keeping, setKeeping] = useState(false);
  const take = (name: string, to: Curve) => editCurve(sound, curveRef, `shape ${name}`, () => to);
  const remove = async ({ id }: OwnShape) => {
    await answered(
      api.DELETE("/api/shapes/{shape_id}", { params: { path: { shape_id: id } }, parseAs: "text" }),
    ).catch(() => null);
    await queries.invalidateQueries({ queryKey: ["shapes"] });
  };
  const item = "flex w-full items-center gap-2 rounded-sm px-2 py-0.5 text-left data-focus:bg-band";
  return (
    <>
      <Menu>
        <MenuButton className="inline-flex min-h-6 items-center gap-1 rounded-sm border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band">
          Shape <ChevronDown size={12} aria-hidden />
        </MenuButton>
        <MenuItems
          anchor="bottom start"
          className="z-30 max-h-[60vh] w-56 overflow-y-auto rounded-card border border-line-strong bg-sheet p-1 text-[12.5px]"
        >
          {shapes.data?.own.map((shape) => (
            <div key={shape.id} className="flex items-center">
              <MenuItem>
                <button
                  type="button"
                  className={item}
                  onClick={() =>
                    take(shape.name, asKind(shape.curve, shape.curve_name, curveRef.name))
                  }
                >
                  <ShapePicture curve={shape.curve} />
                  {shape.name}
                </button>
              </MenuItem>
              <MenuItem>
                <button
                  type="button"
                  aria-label={`Forget ${shape.name}`}
                  title="Forget this shape"
                  className="grid size-6 shrink-0 place-items-center rounded-sm text-ink-3 data-focus:bg-band"
                  onClick={() => void remove(shape)}
                >
                  <X size={12} aria-hidden />
                </button>
              </MenuItem>
            </div>
          ))}
          <MenuItem>
            <button
              type="button"
              className={`${item} text-action`}
              onClick={() => setKeeping(true)}
            >
              Keep this curve as a shape…
            </button>
          </MenuItem>
          <hr className="my-1 border-line" />
          {shapes.data?.stock.map((shape) => (
            <MenuItem key={shape.name}>
              <button
                type="button"
                className={item}
                onClick={() => take(shape.name, shapeFitted(shape.curve, curve, curveRef.name))}
              >
                <ShapePicture curve={shape.curve} />
                {shape.name}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      <DialogFrame
        open={keeping}
        onClose={() => setKeeping(false)}
        title="Keep this curve as a shape"
      >
        <KeepShape curve={curve} curveName={curveRef.name} onDone={() => setKeeping(false)} />
      </DialogFrame>
    </>
  );
}

function ShapePicture({ curve }: { curve: Curve }) {
  const line = curveOutline(curve, 0, curve.points.at(-1)?.time_s ?? 1);
  const end = Math.max(1e-6, ...line.map(({ timeS }) => timeS));
  const values = line.map(({ value }) => value);
  const low = Math.min(...values);
  const span = Math.max(1e-6, Math.max(...values) - low);
  const d = line
    .map(
      ({ timeS, value }, n) =>
        `${n === 0 ? "M" : "L"}${(1 + (timeS / end) * 34).toFixed(1)} ${(15 - ((value - low) / span) * 13).toFixed(1)}`,
    )
    .join("");
  return (
    <svg width={36} height={17} aria-hidden className="shrink-0">
      <path d={d} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
    </svg>
  );
}

interface KeepShapeProps {
  curve: Curve;
  curveName: CurveName;
  onDone: () => void;
}

function KeepShape({ curve, curveName, onDone }: KeepShapeProps) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const keep = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { name, curve_name: curveName, curve: { ...curve } };
      await answered(api.POST("/api/shapes", { body }));
      await queries.invalidateQueries({ queryKey: ["shapes"] });
      onDone();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The shape could not be kept");
    }
  };
  return (
    <form onSubmit={(event) => void keep(event)} className="grid gap-3">
      <label className="grid gap-1">
        Name
        <input
          autoFocus
          className="h-8 rounded-control border border-line-strong bg-sheet px-2"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <p className="text-[12px] text-ink-2">
        A shape of the same name is replaced. Curves made from it stay as they are.
      </p>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="action" type="submit" disabled={name.trim() === ""}>
          Keep shape
        </Button>
      </div>
    </form>
  );
}
