import {
  Archive,
  AudioWaveform,
  FileAudio,
  Music,
  SlidersHorizontal,
  Sparkles,
  Table2,
} from "lucide-react";
import { useState } from "react";
import { useLocation } from "react-router";
import { useRefreshSamples, useLibraries, mayDo } from "../api";
import { Button } from "../ui";
import { startBatch, useBatch } from "./batch";
import { letFilesBe } from "./importStore";
import { type Gathered, isMidi } from "./folders";
import { NO_RULES } from "./rules";
import { RulesForm } from "./RulesForm";
import { type Destination, useBringIn, useOpenSound } from "./useImport";

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
    words: "shown under the result, to match",
    icon: <FileAudio size={15} />,
  },
  {
    to: "impulse",
    label: "As an impulse",
    words: "convolution on the main chain",
    icon: <SlidersHorizontal size={15} />,
  },
  {
    to: "table",
    label: "As a wavetable",
    words: "a layer of single cycles",
    icon: <Table2 size={15} />,
  },
];
const START: Way = {
  to: "start",
  label: "Make a sound from it",
  words: "measures pitch, level and partials and proposes a sound",
  icon: <Sparkles size={15} />,
};
const NOTES: Way = {
  to: "notes",
  label: "As the notes of the hit",
  words: "up to 16 notes",
  icon: <Music size={15} />,
};

/** The library that is looked at, by the address of its page. */
const libraryOf = (path: string) => {
  const [, id] = /^\/libraries\/(\d+)/.exec(path) ?? [];
  return id === undefined ? undefined : Number(id);
};

interface Props {
  gathered: Gathered;
  onDone: (words: string | null) => void;
}

/** Where files shall go: into the open sound, or a library. */
export function Destinations({ gathered, onDone }: Props) {
  const { files, leftOut } = gathered;
  const path = useLocation().pathname;
  const onBench = path.startsWith("/bench");
  const sound = useOpenSound();
  const libraries = useLibraries();
  const refresh = useRefreshSamples();
  const busy = useBatch(({ batch }) => batch?.running ?? false);
  const writable = (libraries.data ?? []).filter((one) => mayDo(one, "sample.add"));
  const [rules, setRules] = useState(NO_RULES);
  const [wanted, setWanted] = useState<number | undefined>(libraryOf(path));
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
  const library = writable.find(({ id }) => id === wanted) ?? writable[0];
  const intoLibrary = () => {
    if (!library) return;
    letFilesBe();
    void startBatch(files, library, () => void refresh(), rules);
  };
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
  if (files.length === 0) return <p>It contains no audio files.</p>;
  return (
    <div className="grid gap-1.5">
      {problem && (
        <p role="alert" className="rounded-control border border-bad px-2 py-1 text-bad">
          {problem}
        </p>
      )}
      {midi && !inSound && <p>Open a sound first: a MIDI file sets its notes.</p>}
      {ways.map(({ to, label, words, icon }, n) => (
        <button
          key={to}
          type="button"
          autoFocus={n === 0}
          className="flex min-h-9 items-center gap-2.5 rounded-control border border-line-strong bg-sheet px-2.5 text-left hover:bg-band"
          onClick={() => void bring(files, to)}
        >
          <span aria-hidden className="text-action">
            {icon}
          </span>
          <span className="font-medium whitespace-nowrap">{label}</span>
          <span className="text-[12px] text-ink-2">{words}</span>
        </button>
      ))}
      {!midi && library && (
        <div className="flex items-center gap-2">
          <Button
            look={ways.length === 0 ? "action" : "plain"}
            autoFocus={ways.length === 0}
            disabled={busy}
            onClick={intoLibrary}
          >
            <Archive size={15} aria-hidden /> Into the library
          </Button>
          <select
            aria-label="Library"
            className="h-8 min-w-0 flex-1 rounded-control border border-line-strong bg-sheet px-1"
            value={library.id}
            onChange={({ target }) => setWanted(Number(target.value))}
          >
            {writable.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </div>
      )}
      {!midi && library && <RulesForm files={files} rules={rules} onChange={setRules} />}
      {!midi && busy && (
        <p className="text-[12px] text-ink-2">
          Another import is running; start this one when it is done.
        </p>
      )}
      {!midi && libraries.data && !library && ways.length === 0 && (
        <p>There is no library you can add to.</p>
      )}
      {leftOut > 0 && (
        <p className="text-[12px] text-ink-2">
          {leftOut === 1 ? "One other file" : `${leftOut} other files`} in it{" "}
          {leftOut === 1 ? "is" : "are"} not readable as audio and will be skipped.
        </p>
      )}
      <p className="mt-1 text-[12px] text-ink-2">
        WAV, AIFF, FLAC, Ogg, MP3 and MIDI; up to 200 MB and ten minutes, one or two channels.
      </p>
    </div>
  );
}
