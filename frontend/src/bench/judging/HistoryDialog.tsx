import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Play } from "lucide-react";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { resultOf, api, ApiError, compareAddress, useDeclarations, type Sound } from "../../api";
import { Button, DialogFrame } from "../../ui";
import { differences, edit, useBench, saveNow } from "../../sound";
import { playDocument } from "../playing";
import { SessionSteps } from "./SessionSteps";

interface Props {
  open: boolean;
  onClose: () => void;
}

const TAB =
  "min-h-7 rounded-control border border-line-strong px-3 data-selected:bg-ink data-selected:text-sheet";

/** Kept revisions and the steps of this session: each in words, played, restored. */
export function HistoryDialog({ open, onClose }: Props) {
  return (
    <DialogFrame open={open} onClose={onClose} title="History" wide>
      <TabGroup>
        <TabList className="mb-3 flex gap-1">
          <Tab className={TAB}>Revisions</Tab>
          <Tab className={TAB}>This session</Tab>
        </TabList>
        <TabPanels>
          <TabPanel>
            <History onClose={onClose} />
          </TabPanel>
          <TabPanel>
            <SessionSteps />
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </DialogFrame>
  );
}

interface Revision {
  number: number;
  note: string;
  created: string;
  created_by: string;
  document: Sound;
}

async function fetchRevisions(soundId: number): Promise<Revision[]> {
  const request = api.GET("/api/sounds/{sound_id}/revisions", {
    params: { path: { sound_id: soundId } },
  });
  const { revisions } = await resultOf(request);
  return revisions.map((one) => ({
    ...one,
    document: one.document as Sound & Record<string, unknown>,
  }));
}

function History({ onClose }: { onClose: () => void }) {
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const document = useBench((state) => state.document);
  const declarations = useDeclarations().data;
  const revisions = useQuery({
    queryKey: ["revisions", soundId],
    queryFn: () => fetchRevisions(soundId),
  });
  const list = revisions.data ?? [];
  const navigate = useNavigate();
  if (!document || !declarations) return null;
  const compare = (number: number) =>
    // What is compared is what is saved.
    void saveNow().then(() =>
      navigate(
        compareAddress([
          { kind: "sound", id: soundId, revision: number },
          { kind: "sound", id: soundId, revision: null },
        ]),
      ),
    );
  const bringBack = (revision: Revision) => {
    edit(`Revision ${revision.number} restored`, () => revision.document);
    onClose();
  };
  return (
    <div className="grid gap-3">
      <KeepRevision
        soundId={soundId}
        changed={
          list[0] === undefined || differences(list[0].document, document, declarations).length > 0
        }
      />
      {revisions.data && list.length === 0 && <p className="text-ink-2">No revisions yet.</p>}
      <ol className="grid max-h-[52vh] gap-2 overflow-y-auto" aria-label="Revisions">
        {list.map((revision, index) => {
          const older = list[index + 1];
          const changes = older
            ? differences(older.document, revision.document, declarations)
            : ["First revision"];
          return (
            <li
              key={revision.number}
              className="flex gap-3 rounded-control border border-line bg-sheet p-2"
            >
              <div className="min-w-0 flex-1">
                <p className="font-semibold">
                  {revision.number}
                  {revision.note && <span> · {revision.note}</span>}
                </p>
                <p className="text-[12px] text-ink-2">
                  {new Date(revision.created).toLocaleString()} · {revision.created_by}
                </p>
                <p className="text-[12px]">
                  {changes.slice(0, 4).join("; ")}
                  {changes.length > 4 ? ` and ${changes.length - 4} more` : ""}
                </p>
              </div>
              <Button
                className="px-2"
                aria-label={`Play revision ${revision.number}`}
                onClick={() => void playDocument(revision.document)}
              >
                <Play size={14} aria-hidden />
              </Button>
              <Button
                aria-label={`Compare revision ${revision.number} with the sound as it is`}
                onClick={() => compare(revision.number)}
              >
                Compare
              </Button>
              <Button onClick={() => bringBack(revision)}>Restore</Button>
            </li>
          );
        })}
      </ol>
    </div>
  );
}

function KeepRevision({ soundId, changed }: { soundId: number; changed: boolean }) {
  const [note, setNote] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const keep = async (event: FormEvent) => {
    event.preventDefault();
    setProblem(null);
    try {
      await saveNow();
      const { document, version, opened } = useBench.getState();
      if (!document || !opened) return;
      const params = { path: { sound_id: soundId } };
      const body = { base_version: version, document: { ...document }, note };
      const kept = await resultOf(api.POST("/api/sounds/{sound_id}/revisions", { params, body }));
      useBench.setState({
        version: kept.version,
        opened: { ...opened, revision: kept.revision.number },
      });
      setNote("");
      await queries.invalidateQueries({ queryKey: ["revisions", soundId] });
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The revision could not be kept");
    }
  };
  return (
    <form onSubmit={(event) => void keep(event)} className="flex items-center gap-2">
      <input
        aria-label="Note"
        placeholder={changed ? "What changed?" : "Nothing has changed since the last revision"}
        maxLength={500}
        value={note}
        onChange={(event) => setNote(event.target.value)}
        className="h-8 min-w-0 flex-1 rounded-control border border-line-strong bg-sheet px-2"
      />
      <Button look="action" type="submit" disabled={!changed}>
        Keep revision
      </Button>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </form>
  );
}
