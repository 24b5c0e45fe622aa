import { useState } from "react";
import { useNavigate } from "react-router";
import {
  allIds,
  compareAddress,
  MOST_AT_ONCE,
  MOST_SIDES,
  errorText,
  useRefreshSamples,
  useVocabulary,
  resultOf,
  api,
  mayDo,
  type LibraryItem,
} from "../../api";
import { ActionMenu, Button } from "../../ui";
import {
  ChangeDialog,
  ExportDialog,
  LoudnessDialog,
  RenameDialog,
  RerenderDialog,
  TrimDialog,
} from "../many";
import {
  UndoOffer,
  statusText,
  statusVerb,
  choose,
  mark,
  useSelection,
  offerUndo,
} from "../common";

type Open = "change" | "rename" | "loudness" | "trim" | "export" | "rerender" | null;

/** What can be done with all that is marked, or with all that was found. */
export function BulkBar({ library, total }: { library: LibraryItem | undefined; total: number }) {
  const { marked, query, undoable } = useSelection();
  const refresh = useRefreshSamples();
  const words = useVocabulary().data;
  const [open, setOpen] = useState<Open>(null);
  const navigate = useNavigate();
  const [notice, setNotice] = useState<string | null>(null);
  const may = (action: string) => library === undefined || mayDo(library, action);
  const count = `${marked.length} sample${marked.length === 1 ? "" : "s"}`;

  const attempt = async (what: () => Promise<unknown>) => {
    setNotice(null);
    try {
      await what();
    } catch (error) {
      setNotice(errorText(error));
    }
    await refresh();
  };
  const move = (status: "draft" | "in_review" | "approved" | "retired") =>
    attempt(async () => {
      const made = await resultOf(api.POST("/api/samples/move", { body: { ids: marked, status } }));
      offerUndo(made.gesture, `${count} moved to ${statusText(status)}`);
    });
  const bin = (away: boolean) =>
    attempt(async () => {
      const body = { ids: marked };
      const made = await resultOf(
        away ? api.POST("/api/samples/bin", { body }) : api.POST("/api/samples/restore", { body }),
      );
      mark([]);
      choose(null);
      offerUndo(made.gesture, `${count} ${away ? "moved to bin" : "restored"}`);
    });
  const markAll = async () => {
    const ids = (await allIds(query)).slice(0, MOST_AT_ONCE);
    mark(ids);
    if (ids.length < total) setNotice(`the first ${ids.length} of ${total} are selected`);
  };
  const compare = () => void navigate(compareAddress(marked.map((id) => ({ kind: "sample", id }))));
  const statuses = [...new Set(words?.moves.map(({ to_status }) => to_status))];
  const menu =
    "inline-flex min-h-8 items-center gap-1 rounded-control border border-line-strong bg-sheet px-2.5 hover:bg-band";
  return (
    <div className="flex min-h-10 shrink-0 flex-wrap items-center gap-1.5 border-b border-line bg-panel px-3 py-1 text-[12.5px]">
      {marked.length === 0 ? (
        <>
          <span role="status" className="mr-1 text-ink-2">
            <span className="figure">{total}</span> found
          </span>
          <Button look="quiet" onClick={() => void attempt(markAll)} disabled={total === 0}>
            Select all
          </Button>
          {undoable === null && notice === null && (
            <span className="ml-auto truncate text-ink-2">
              ↑ ↓ move and play · X selects · Enter opens the sound
            </span>
          )}
        </>
      ) : (
        <>
          <b role="status" className="mr-1">
            {count} selected
          </b>
          {may("sample.edit") && !query.binned && (
            <>
              <Button onClick={() => setOpen("change")}>Change…</Button>
              <Button onClick={() => setOpen("rename")}>Rename…</Button>
              <ActionMenu
                className={menu}
                anchor="bottom start"
                actions={[
                  { label: "Match loudness…", act: () => setOpen("loudness") },
                  { label: "Trim silence…", act: () => setOpen("trim") },
                  { label: "Render again…", act: () => setOpen("rerender") },
                  { label: "Move to bin", act: () => void bin(true) },
                ]}
              >
                Process ▾
              </ActionMenu>
            </>
          )}
          {query.binned && may("sample.edit") && (
            <Button onClick={() => void bin(false)}>Restore from bin</Button>
          )}
          {!query.binned && (may("sample.submit") || may("sample.review")) && (
            <ActionMenu
              className={menu}
              anchor="bottom start"
              actions={statuses.map((status) => ({
                label: statusVerb(null, status),
                act: () => void move(status as "draft"),
              }))}
            >
              Status ▾
            </ActionMenu>
          )}
          {marked.length >= 2 && marked.length <= MOST_SIDES && (
            <Button title="Compare the selected samples" onClick={compare}>
              Compare
            </Button>
          )}
          <Button onClick={() => setOpen("export")}>Download…</Button>
          <Button look="quiet" onClick={() => mark([])}>
            Clear selection
          </Button>
        </>
      )}
      <UndoOffer />
      {notice && (
        <span role="alert" className="ml-auto text-ink">
          {notice}
        </span>
      )}
      <ChangeDialog
        open={open === "change"}
        onClose={() => setOpen(null)}
        ids={marked}
        library={library?.id}
      />
      <RenameDialog open={open === "rename"} onClose={() => setOpen(null)} ids={marked} />
      <LoudnessDialog open={open === "loudness"} onClose={() => setOpen(null)} ids={marked} />
      <TrimDialog open={open === "trim"} onClose={() => setOpen(null)} ids={marked} />
      <RerenderDialog open={open === "rerender"} onClose={() => setOpen(null)} ids={marked} />
      <ExportDialog open={open === "export"} onClose={() => setOpen(null)} ids={marked} />
    </div>
  );
}
