import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { resultOf, api } from "../../api";
import { valueText } from "./valueText";

/** Who changed what and when, newest first. */
export function HistoryLeaf({ sampleId, version }: { sampleId: number; version: number }) {
  const history = useQuery({
    // With the version: what was asked for before a change is no answer after it.
    queryKey: ["samples", "history", sampleId, version],
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const params = { path: { sample_id: sampleId } };
      return (await resultOf(api.GET("/api/samples/{sample_id}/history", { params }))).edits;
    },
  });
  if (history.data?.length === 0) return <p className="text-ink-2">No changes yet.</p>;
  return (
    <ol className="grid gap-2 text-[12.5px]">
      {history.data?.map((one, n) => (
        <li key={n} className={`border-b border-line pb-1.5 ${one.undone ? "opacity-60" : ""}`}>
          <p className="font-medium">{one.label}</p>
          <p className="text-[11.5px] text-ink-2">
            {one.by}, {new Date(one.created).toLocaleString()}
            {one.undone && ", undone"}
          </p>
          {Object.entries(one.changes).map(([field, [before, after]]) => (
            <p key={field} className="text-[11.5px] break-words">
              <span className="text-ink-2">{field}:</span> {valueText(before)} → {valueText(after)}
            </p>
          ))}
        </li>
      ))}
    </ol>
  );
}
