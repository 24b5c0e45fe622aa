import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import {
  MOST_AT_ONCE,
  errorText,
  useRefreshSamples,
  resultOf,
  api,
  mayDo,
  type LibraryItem,
  type SampleItem,
} from "../../api";
import { Button, Waiting } from "../../ui";
import { levelText, askAnew, choose, mark, offerUndo, HeardRow, UndoOffer } from "../common";

const SHOWN = 40;
const SHOWN_OF_GROUP = 8;

/** What the library needs: samples behind their sound, missing words, duplicates. */
export function CareView({ library }: { library: LibraryItem }) {
  const path = { library_id: library.id };
  const navigate = useNavigate();
  const gaps = useQuery({
    queryKey: ["care", "gaps", library.id],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/gaps", { params: { path } }))).gaps,
  });
  const outdated = useQuery({
    queryKey: ["care", "outdated", library.id],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/outdated", { params: { path } }))).ids,
  });
  const duplicates = useQuery({
    queryKey: ["care", "duplicates", library.id],
    queryFn: () =>
      resultOf(api.GET("/api/libraries/{library_id}/duplicates", { params: { path } })),
  });
  const show = (ids: number[]) => {
    askAnew({ libraries: [library.id] });
    mark(ids.slice(0, MOST_AT_ONCE));
    choose(ids[0] ?? null);
    void navigate(`/libraries/${library.id}`);
  };
  const lines = [
    ...(outdated.data?.length
      ? [{ text: "were made by an older revision of their sound", ids: outdated.data }]
      : []),
    ...(gaps.data ?? []),
  ];
  const groups = duplicates.data?.groups ?? [];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      <h3 className="mb-2 font-title text-[15px] font-semibold">Missing details</h3>
      {gaps.isPending && <Waiting words="Checking all samples" />}
      {gaps.data && lines.length === 0 && (
        <p className="text-ink-2">No details are missing, and all samples are up to date.</p>
      )}
      <ul className="mb-6 grid max-w-[640px] gap-1">
        {lines.map(({ text, ids }) => (
          <li key={text} className="flex items-center gap-3 border-b border-line py-1">
            <span className="figure w-12 text-right">{ids.length}</span>
            <span className="flex-1">{text}</span>
            <Button onClick={() => show(ids)}>
              {ids.length > MOST_AT_ONCE ? `Select the first ${MOST_AT_ONCE}` : "Select them"}
            </Button>
          </li>
        ))}
      </ul>
      <div className="mb-2 flex max-w-[760px] items-center">
        <h3 className="font-title text-[15px] font-semibold">Duplicates</h3>
        <UndoOffer />
      </div>
      {duplicates.isPending && <Waiting words="Comparing all samples" />}
      {duplicates.data?.complete === false && (
        <p role="status" className="mb-2 text-ink-2">
          So many samples are alike that only the nearest were compared. Merge these, then look
          again.
        </p>
      )}
      {duplicates.data && groups.length === 0 && (
        <p className="text-ink-2">No duplicates and no copies.</p>
      )}
      <ul className="grid gap-3">
        {groups.slice(0, SHOWN).map(({ exact, ids }) => (
          <Group
            key={ids.join()}
            exact={exact}
            ids={ids}
            editable={mayDo(library, "sample.edit")}
          />
        ))}
        {groups.length > SHOWN && (
          <li className="text-ink-2">
            and {groups.length - SHOWN} more groups, shown as these are resolved
          </li>
        )}
      </ul>
    </div>
  );
}

interface GroupProps {
  exact: boolean;
  ids: number[];
  editable: boolean;
}

function Group({ exact, ids, editable }: GroupProps) {
  const queries = useQueryClient();
  const refresh = useRefreshSamples();
  const [problem, setProblem] = useState<string | null>(null);
  const listed = ids.slice(0, SHOWN_OF_GROUP);
  const samples = useQuery({
    queryKey: ["samples", "listed", listed],
    queryFn: async () =>
      (await resultOf(api.POST("/api/samples/listed", { body: { ids: listed } }))).samples,
  });
  const keep = async (sample: SampleItem) => {
    const others = ids.filter((id) => id !== sample.id).slice(0, MOST_AT_ONCE - 1);
    try {
      const body = { keep: sample.id, ids: others };
      const made = await resultOf(api.POST("/api/samples/merge", { body }));
      offerUndo(made.gesture, `${others.length} merged into ${sample.name}`);
      await queries.invalidateQueries({ queryKey: ["care"] });
      await refresh();
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <li className="max-w-[760px] rounded-card border border-line bg-panel p-2.5">
      <p className="mb-1 text-[12px] text-ink-2">
        {exact ? "Identical" : "Nearly identical"}
        {editable && ". The one you keep takes over the tags and comments of the others."}
      </p>
      <ul className="border-t border-line">
        {samples.data?.map((sample) => (
          <HeardRow key={sample.id} sample={sample}>
            <span className="figure w-24 text-right text-[12px]">
              {levelText(sample.loudness_lufs, "LUFS")}
            </span>
            {editable && <Button onClick={() => void keep(sample)}>Keep this</Button>}
          </HeardRow>
        ))}
      </ul>
      {ids.length > listed.length && (
        <p className="pt-1 text-[12px] text-ink-2">and {ids.length - listed.length} more</p>
      )}
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </li>
  );
}
