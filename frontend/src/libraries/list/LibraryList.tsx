import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useNavigate } from "react-router";
import { succeeded, type SampleQuery, resultOf, api, useLibraries } from "../../api";
import { askAnew } from "../common";

const ROW = "flex min-h-8 w-full items-center justify-between rounded-control px-2 text-left";

/** Libraries to go to, and searches that were kept. */
export function LibraryList({ chosen }: { chosen: number | "all" | null }) {
  const libraries = useLibraries();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const searches = useQuery({
    queryKey: ["searches"],
    queryFn: async () => (await resultOf(api.GET("/api/searches"))).searches,
  });
  const go = async (query: SampleQuery) => {
    await navigate(
      query.libraries.length === 1 ? `/libraries/${query.libraries[0]}` : "/libraries/all",
    );
    askAnew(query);
  };
  const forget = async (search_id: number) => {
    await succeeded(api.DELETE("/api/searches/{search_id}", { params: { path: { search_id } } }));
    await queries.invalidateQueries({ queryKey: ["searches"] });
  };
  const many = (libraries.data?.length ?? 0) > 1;
  return (
    <>
      {many && (
        <button
          type="button"
          aria-current={chosen === "all"}
          onClick={() => void navigate("/libraries/all")}
          className={`${ROW} ${chosen === "all" ? "bg-band font-semibold" : "hover:bg-band"}`}
        >
          All libraries
        </button>
      )}
      {libraries.data?.map(({ id, name, samples: count }) => (
        <button
          key={id}
          type="button"
          aria-current={id === chosen}
          onClick={() => void navigate(`/libraries/${id}`)}
          className={`${ROW} ${id === chosen ? "bg-band font-semibold" : "hover:bg-band"}`}
        >
          <span className="truncate">{name}</span>
          <span className="figure text-[11px] text-ink-2">{count}</span>
        </button>
      ))}
      {(searches.data?.length ?? 0) > 0 && (
        <h2 className="mt-3 text-[11.5px] font-semibold text-ink-2">Saved searches</h2>
      )}
      {searches.data?.map(({ id, name, query }) => (
        <span key={id} className="flex items-center">
          <button
            type="button"
            onClick={() => void go(query as SampleQuery)}
            className={`${ROW} hover:bg-band`}
          >
            <span className="truncate">{name}</span>
          </button>
          <button
            type="button"
            aria-label={`Delete ${name}`}
            onClick={() => void forget(id)}
            className="grid size-6 place-items-center rounded-sm text-ink-2 hover:bg-band"
          >
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
    </>
  );
}
