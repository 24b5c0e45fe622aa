import { Ellipsis } from "lucide-react";
import { useRef, useState } from "react";
import { api, errorText, refusal, resultOf, type PlacedHit } from "../api";
import { choose, editTryOut, saveTryOut, useTryOut } from "../loop";
import { ActionMenu, Button, Choice, DialogFrame } from "../ui";
import { withPart } from "./edits";
import { useTryOutRuler } from "./rulerStore";

const FORMATS = [
  ["wav24", "WAV, 24 bit"],
  ["wav16", "WAV, 16 bit with dither"],
  ["wav32", "WAV, 32 bit float"],
  ["flac24", "FLAC, 24 bit"],
  ["flac16", "FLAC, 16 bit with dither"],
] as const;
const RATES = [
  ["48000", "48 kHz"],
  ["44100", "44.1 kHz"],
  ["88200", "88.2 kHz"],
  ["96000", "96 kHz"],
  ["192000", "192 kHz"],
] as const;

/** Files out and in, links, and the panels below. */
export function GiveMenu() {
  const [exporting, setExporting] = useState(false);
  const [link, setLink] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const midi = useRef<HTMLInputElement>(null);
  const id = useTryOut((state) => state.opened?.id ?? 0);
  const fetchFile = async (path: string) => {
    await saveTryOut();
    window.location.assign(`/api/tryouts/${id}/${path}`);
  };
  const share = async () => {
    try {
      await saveTryOut();
      const params = { path: { tryout_id: id } };
      const body = { days: 30, note: "" };
      const made = await resultOf(api.POST("/api/tryouts/{tryout_id}/links", { params, body }));
      setLink(`${window.location.origin}${made.path ?? ""}`);
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const readMidi = async (file: File) => {
    try {
      setProblem(await importMidi(file));
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <>
      <ActionMenu
        label="More"
        title="Files, link, game test, kit"
        className="grid size-8 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band"
        anchor="bottom end"
        actions={[
          { label: "Mix, stems, kit…", act: () => setExporting(true) },
          { label: "Hits as MIDI", act: () => void fetchFile("midi") },
          { label: "Import MIDI into the part…", act: () => midi.current?.click() },
          { label: "Try-out as one file", act: () => void fetchFile("file") },
          { label: "Share link", act: () => void share() },
          { label: "Game test", act: () => useTryOutRuler.setState({ panel: "game" }) },
          { label: "Kit", act: () => useTryOutRuler.setState({ panel: "kit" }) },
        ]}
      >
        <Ellipsis size={15} aria-hidden />
      </ActionMenu>
      <input
        ref={midi}
        type="file"
        accept=".mid,.midi"
        aria-label="MIDI file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void readMidi(file);
        }}
      />
      <DialogFrame open={exporting} onClose={() => setExporting(false)} title="Export">
        <ExportForm id={id} onDone={() => setExporting(false)} />
      </DialogFrame>
      <DialogFrame open={link !== null} onClose={() => setLink(null)} title="Link to this try-out">
        <p className="mb-2 text-ink-2">
          Anyone with this link can hear the mix for 30 days. It is shown only now.
        </p>
        <input
          readOnly
          aria-label="Link"
          className="figure h-8 w-full rounded-control border border-line-strong bg-sheet px-2"
          value={link ?? ""}
          onFocus={(event) => event.currentTarget.select()}
        />
      </DialogFrame>
      <DialogFrame open={problem !== null} onClose={() => setProblem(null)} title="MIDI and links">
        <p role="alert">{problem}</p>
      </DialogFrame>
    </>
  );
}

/** Hits of a MIDI file into parts: track by track in order, the first into the chosen part. */
async function importMidi(file: File): Promise<string> {
  const { document, chosen } = useTryOut.getState();
  if (!document) return "Nothing is open";
  const parts = document.parts.filter(({ plays }) => plays.kind !== "bed");
  if (parts.length === 0) return "Add a part first: hits need something that plays them";
  const form = new FormData();
  form.append("file", file);
  const url = `/api/tryouts/midi?tempo_bpm=${document.tempo_bpm}`;
  const response = await fetch(url, { method: "POST", body: form });
  const answer = (await response.json()) as { tracks: { name: string; hits: PlacedHit[] }[] };
  if (!response.ok) throw refusal(response.status, answer);
  const chosenAt = chosen.kind === "tryout" ? 0 : parts.findIndex(({ id }) => id === chosen.part);
  const first = Math.max(0, chosenAt);
  const placed = answer.tracks.slice(0, parts.length - first);
  editTryOut(`Hits imported from ${file.name}`, (now) =>
    placed.reduce(
      (made, track, n) =>
        withPart(made, parts[first + n]?.id ?? "", (part) => ({ ...part, hits: track.hits })),
      now,
    ),
  );
  const part = parts[first];
  if (part) choose({ kind: "part", part: part.id });
  const left = answer.tracks.length - placed.length;
  const where = placed.map((_, n) => parts[first + n]?.name ?? "").join(", ");
  return `Hits of ${placed.length === 1 ? "one track" : `${placed.length} tracks`} are in ${where}.${left > 0 ? ` ${left} more tracks had no part.` : ""}`;
}

function ExportForm({ id, onDone }: { id: number; onDone: () => void }) {
  const [what, setWhat] = useState<"mix" | "stems.zip" | "kit.zip">("mix");
  const [format, setFormat] = useState<(typeof FORMATS)[number][0]>("wav24");
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("48000");
  const [state, setState] = useState<"ready" | "busy">("ready");
  const [problem, setProblem] = useState<string | null>(null);
  const go = async () => {
    setState("busy");
    setProblem(null);
    try {
      await saveTryOut();
      const url = `/api/tryouts/${id}/${what}?file_format=${format}&sample_rate=${rate}`;
      const response = await fetch(url);
      if (!response.ok) throw refusal(response.status, await response.json().catch(() => null));
      const name = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition") ?? "");
      save(await response.blob(), name?.[1] ?? "try-out");
      onDone();
    } catch (error) {
      setProblem(errorText(error));
    } finally {
      setState("ready");
    }
  };
  return (
    <div className="grid gap-3">
      <Choice
        label="What"
        value={what}
        options={[
          ["mix", "Mix, one file"],
          ["stems.zip", "Mix, stems and MIDI"],
          ["kit.zip", "Kit: SFZ with samples, and MIDI"],
        ]}
        onChange={setWhat}
      />
      <Choice label="Format" value={format} options={FORMATS} onChange={setFormat} />
      <Choice label="Rate" value={rate} options={RATES} onChange={setRate} />
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="action" disabled={state === "busy"} onClick={() => void go()}>
          {state === "busy" ? "Rendering…" : "Export"}
        </Button>
      </div>
    </div>
  );
}

function save(data: Blob, name: string): void {
  const url = URL.createObjectURL(data);
  const anchor = window.document.createElement("a");
  anchor.href = url;
  anchor.download = name;
  anchor.click();
  window.setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
