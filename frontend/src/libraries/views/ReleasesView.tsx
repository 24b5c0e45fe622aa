import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Share2 } from "lucide-react";
import { type FormEvent, useState } from "react";
import { fieldProblem, type ReleaseItem, said } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import { mayDo } from "../../api/session";
import { useWork } from "../../api/work";
import type { LibraryItem } from "../../api/types";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { ProgressLine } from "../../ui/ProgressLine";
import { TextField } from "../../ui/TextField";
import { Waiting } from "../../ui/Waiting";
import { useSelection } from "../queryStore";
import { ShareDialog } from "../ShareDialog";
import { ChangeList } from "./ChangeList";
import { LinkList } from "./LinkList";
import { nextNumber } from "./releaseNumbers";

/** Numbered versions that never change: what the next one would bring, and those that are made. */
export function ReleasesView({ library }: { library: LibraryItem }) {
  const path = { library_id: library.id };
  const releases = useQuery({
    queryKey: ["releases", library.id],
    queryFn: async () =>
      (await answered(api.GET("/api/libraries/{library_id}/releases", { params: { path } })))
        .releases,
  });
  const pending = useQuery({
    queryKey: ["releases", library.id, "pending"],
    queryFn: () =>
      answered(api.GET("/api/libraries/{library_id}/releases/changes", { params: { path } })),
  });
  if (!releases.data || !pending.data)
    return <Waiting words="Comparing what is approved with the last release" />;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      <section className="mb-6 max-w-[860px] rounded-card border border-line-strong bg-panel p-4">
        <h3 className="font-title text-[15px] font-semibold">
          {pending.data.since ? `Since ${pending.data.since}` : "The first release"}
        </h3>
        {pending.data.changes.length === 0 ? (
          <p className="mt-1 text-ink-2">
            {pending.data.since
              ? "Nothing that is approved has changed."
              : "Nothing is approved yet; a release holds what is."}
          </p>
        ) : (
          <ChangeList
            changes={pending.data.changes}
            counts={pending.data.counts}
            libraryId={library.id}
            since={pending.data.since}
          />
        )}
        {mayDo(library, "release.make") && (
          <ReleaseForm
            key={pending.data.since}
            libraryId={library.id}
            empty={pending.data.changes.length === 0}
            suggested={nextNumber(pending.data.since, Object.keys(pending.data.counts))}
          />
        )}
      </section>
      {releases.data.map((release, n) => (
        <ReleaseCard
          key={release.id}
          release={release}
          library={library}
          since={releases.data[n + 1]?.number ?? null}
        />
      ))}
      {mayDo(library, "share.make") && <LinkList libraryId={library.id} />}
    </div>
  );
}

interface FormProps {
  libraryId: number;
  suggested: string;
  /** Whether there is nothing new to release. */
  empty: boolean;
}

function ReleaseForm({ libraryId, suggested, empty }: FormProps) {
  const queries = useQueryClient();
  const [number, setNumber] = useState(suggested);
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<unknown>(null);
  const marked = useSelection((state) => state.marked);
  const [which, setWhich] = useState<"approved" | "marked">("approved");
  const chosen = which === "marked" && marked.length > 0 ? marked : null;
  const { progress, run, stop } = useWork();
  const make = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const params = { path: { library_id: libraryId } };
      const body = { number, note, template: "{category}/{name}", sample_ids: chosen };
      await run((headers) =>
        answered(api.POST("/api/libraries/{library_id}/releases", { params, body, headers })),
      );
      setProblem(null);
      await queries.invalidateQueries({ queryKey: ["releases"] });
    } catch (error) {
      setProblem(error);
    }
    setBusy(false);
  };
  return (
    <form onSubmit={(event) => void make(event)} className="mt-3 border-t border-line pt-3">
      <div className="flex items-start gap-2">
        <TextField
          label="Number"
          figure
          className="w-28"
          value={number}
          problem={fieldProblem(problem, "number")}
          onChange={(event) => setNumber(event.target.value)}
        />
        {marked.length > 0 && (
          <Choice
            label="Of"
            value={which}
            options={[
              ["approved", "all that is approved"],
              ["marked", `the ${marked.length} marked`],
            ]}
            onChange={setWhich}
          />
        )}
        <TextField
          label="Note"
          className="flex-1"
          placeholder="what is new for whoever uses it"
          problem={problem !== null && !fieldProblem(problem, "number") ? said(problem) : null}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <Button
          look="action"
          type="submit"
          className="mt-[22px]"
          disabled={busy || (empty && !chosen) || number === ""}
        >
          {busy ? "Making…" : "Release"}
        </Button>
      </div>
      {chosen && (
        <p className="mt-1 text-[12px] text-ink-2">
          It will hold what is marked alone; whatever else the last release held is gone from it.
        </p>
      )}
      {progress && <ProgressLine verb="Making files" work={progress} onStop={stop} />}
    </form>
  );
}

interface CardProps {
  release: ReleaseItem;
  library: LibraryItem;
  since: string | null;
}

function ReleaseCard({ release, library, since }: CardProps) {
  const [open, setOpen] = useState(false);
  const [sharing, setSharing] = useState(false);
  const { number } = release;
  const path = { library_id: library.id, number };
  const changes = useQuery({
    queryKey: ["releases", library.id, number, "changes"],
    enabled: open,
    queryFn: () =>
      answered(
        api.GET("/api/libraries/{library_id}/releases/{number}/changes", { params: { path } }),
      ),
  });
  return (
    <article className="mb-3 max-w-[860px] rounded-card border border-line bg-sheet p-4">
      <header className="flex items-center gap-3">
        <h3 className="figure text-[17px] font-semibold">{number}</h3>
        <p className="min-w-0 flex-1 truncate text-[12.5px] text-ink-2">
          {release.files} files, {(release.size_bytes / 1e6).toFixed(1)} MB ·{" "}
          {new Date(release.created).toLocaleString()} · {release.created_by}
        </p>
        {mayDo(library, "share.make") && (
          <Button onClick={() => setSharing(true)}>
            <Share2 size={14} aria-hidden /> Share
          </Button>
        )}
        <a
          href={`/api/libraries/${library.id}/releases/${number}.zip`}
          download
          className="inline-flex min-h-8 items-center gap-1.5 rounded-control border border-line-strong px-3 font-medium hover:bg-band"
        >
          <Download size={14} aria-hidden /> Download
        </a>
      </header>
      {release.note && <p className="mt-1.5 break-words">{release.note}</p>}
      <details className="mt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="min-h-6 cursor-pointer text-[12.5px] text-action">
          {since ? `What changed since ${since}` : "What it holds"}
        </summary>
        {changes.data && (
          <ChangeList
            changes={changes.data.changes}
            counts={changes.data.counts}
            libraryId={library.id}
            since={since}
            number={number}
          />
        )}
      </details>
      <ShareDialog
        open={sharing}
        onClose={() => setSharing(false)}
        what={{ libraryId: library.id, number, name: `${library.name} ${number}` }}
      />
    </article>
  );
}
