import {
  AudioWaveform,
  Download,
  FileAudio,
  Music,
  SlidersHorizontal,
  Sparkles,
  Table2,
} from "lucide-react";
import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { useLibraries } from "../api/queries";
import { DialogFrame } from "../ui/DialogFrame";
import { bringFiles, isMidi, useBringing } from "./bringStore";
import { type Destination, useBringIn, useOpenSound } from "./useBringIn";

/** Files dropped anywhere: shows that they are welcome, then asks where they shall go. */
export function BringIn() {
  const over = useFileDrop();
  const files = useBringing((state) => state.files);
  const [words, setWords] = useState<string | null>(null);
  return (
    <>
      {over && (
        <div
          aria-hidden
          className="pointer-events-none fixed inset-2 z-50 grid place-items-center rounded-card border-2 border-dashed border-action bg-panel opacity-90"
        >
          <p className="flex items-center gap-2 font-title text-[20px] font-semibold">
            <Download size={22} /> Drop to bring it in
          </p>
        </div>
      )}
      <DialogFrame
        open={files !== null}
        onClose={() => bringFiles([])}
        title={files?.length === 1 ? (files[0]?.name ?? "") : `${files?.length ?? 0} files`}
        wide
      >
        {files && (
          <Destinations
            files={files}
            onDone={(said) => {
              bringFiles([]);
              setWords(said);
            }}
          />
        )}
      </DialogFrame>
      <DialogFrame open={words !== null} onClose={() => setWords(null)} title="Brought in">
        <p className="mb-3">{words}</p>
        <button
          type="button"
          autoFocus
          className="min-h-8 rounded-control bg-action px-3 font-medium text-action-ink"
          onClick={() => setWords(null)}
        >
          Go on
        </button>
      </DialogFrame>
    </>
  );
}

/** True while files are held over the window; what is dropped is taken. */
function useFileDrop(): boolean {
  const [over, setOver] = useState(false);
  useEffect(() => {
    const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;
    const hold = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(false);
      bringFiles([...(event.dataTransfer?.files ?? [])]);
    };
    window.addEventListener("dragenter", hold);
    window.addEventListener("dragover", hold);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragenter", hold);
      window.removeEventListener("dragover", hold);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return over;
}

interface Way {
  to: Destination;
  label: string;
  words: string;
  icon: React.ReactNode;
}

const INTO_SOUND: Way[] = [
  {
    to: "layer",
    label: "As a layer",
    words: "a sample in this sound",
    icon: <AudioWaveform size={15} />,
  },
  {
    to: "reference",
    label: "As the reference",
    words: "shown under the result, to come near to",
    icon: <FileAudio size={15} />,
  },
  {
    to: "impulse",
    label: "As an impulse",
    words: "a convolution on the main chain",
    icon: <SlidersHorizontal size={15} />,
  },
  {
    to: "table",
    label: "As a wavetable",
    words: "a layer of its single cycles",
    icon: <Table2 size={15} />,
  },
];
const START: Way = {
  to: "start",
  label: "Start a sound from it",
  words: "pitch, level and partials measured, a first sound made",
  icon: <Sparkles size={15} />,
};
const NOTES: Way = {
  to: "notes",
  label: "As the notes of the hit",
  words: "up to 16 notes",
  icon: <Music size={15} />,
};

function Destinations({
  files,
  onDone,
}: {
  files: File[];
  onDone: (words: string | null) => void;
}) {
  const onBench = useLocation().pathname.startsWith("/bench");
  const sound = useOpenSound();
  const libraries = useLibraries();
  const writable = (libraries.data ?? []).filter(({ role }) => role !== "reader");
  const [library, setLibrary] = useState<number | null>(null);
  const { progress, problem, bring } = useBringIn(onDone);
  const midi = files.every(isMidi);
  const single = files.length === 1;
  const inSound = onBench && sound !== null;
  const ways = midi
    ? inSound
      ? [NOTES]
      : []
    : [
        ...(inSound ? INTO_SOUND.filter(({ to }) => single || to === "layer") : []),
        ...(single ? [START] : []),
      ];
  const chosen = library ?? writable[0]?.id ?? null;
  if (progress)
    return (
      <div role="status" aria-live="polite">
        <p className="mb-1 truncate">
          {progress.name}: {progress.words}
        </p>
        <div className="h-2 rounded-full bg-line-strong">
          <div
            className={`h-2 rounded-full bg-action ${progress.share >= 1 ? "animate-pulse" : ""}`}
            style={{ width: `${Math.max(2, progress.share * 100)}%` }}
          />
        </div>
      </div>
    );
  return (
    <div className="grid gap-1.5">
      {problem && (
        <p role="alert" className="rounded-control border border-bad px-2 py-1 text-bad">
          {problem}
        </p>
      )}
      {midi && !inSound && <p>Open a sound first: a MIDI file gives its notes.</p>}
      {ways.map(({ to, label, words, icon }, n) => (
        <button
          key={to}
          type="button"
          autoFocus={n === 0}
          className="flex min-h-9 items-center gap-2.5 rounded-control border border-line-strong bg-sheet px-2.5 text-left hover:bg-band"
          onClick={() => void bring(files, to, null)}
        >
          <span aria-hidden className="text-action">
            {icon}
          </span>
          <span className="font-medium whitespace-nowrap">{label}</span>
          <span className="text-[12px] text-ink-2">{words}</span>
        </button>
      ))}
      {!midi && writable.length > 0 && (
        <div className="flex min-h-9 items-center gap-2.5 rounded-control border border-line-strong bg-sheet px-2.5">
          <button
            type="button"
            className="min-h-8 font-medium hover:underline"
            onClick={() => void bring(files, "library", chosen)}
          >
            Into the library
          </button>
          <select
            aria-label="Library"
            className="h-7 min-w-0 flex-1 rounded-sm border border-line-strong bg-sheet px-1"
            value={chosen ?? ""}
            onChange={({ target }) => setLibrary(Number(target.value))}
          >
            {writable.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </div>
      )}
      <p className="mt-1 text-[12px] text-ink-2">
        WAV, AIFF, FLAC, Ogg, MP3 and MIDI; up to 200 MB and ten minutes, one or two channels.
      </p>
    </div>
  );
}
