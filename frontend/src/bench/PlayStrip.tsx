import { useQuery } from "@tanstack/react-query";
import { KeyboardMusic, Play } from "lucide-react";
import { useEffect, useState } from "react";
import { resultOf, api, ApiError, type Declarations } from "../api";
import { play, renderPhrase } from "../audio";
import { ChecksLine, PinnedStates } from "./judging";
import { InspectorButton } from "./inspector";
import { select, useBench } from "../sound";
import { MidiMenu, playNotes } from "../midi";
import { notesWords, Keybed, noteOff, noteOn, useKeys } from "./playing";

/** Between lanes and path: states to compare, phrases to hear the sound in, keys to play it. */
export function PlayStrip({ declarations }: { declarations: Declarations }) {
  const shown = useKeys((state) => state.shown);
  const soundId = useBench((state) => state.opened?.id);
  // The keys begin at the octave of the sound's own note.
  useEffect(() => {
    const note = useBench.getState().document?.hit.note ?? 48;
    useKeys.setState({ lowest: Math.min(96, 12 * Math.floor(note / 12)) });
  }, [soundId]);
  useEffect(() => playNotes({ on: noteOn, off: noteOff }), []);
  return (
    <section
      aria-label="Comparing and playing"
      className="col-span-full min-w-0 border-t border-line-strong bg-panel"
    >
      <div className="flex min-h-9 items-center gap-3 px-3.5 narrow:flex-wrap narrow:gap-x-2 narrow:gap-y-1 narrow:px-2 narrow:py-1">
        <PinnedStates declarations={declarations} />
        <span className="ml-auto" />
        <NotesButton />
        <Phrases />
        <button
          type="button"
          aria-pressed={shown}
          className={`inline-flex min-h-6 items-center gap-1 rounded-control border px-2 text-[12px] ${shown ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet hover:bg-band"}`}
          onClick={() => useKeys.setState({ shown: !shown })}
        >
          <KeyboardMusic size={13} aria-hidden /> Keys
        </button>
        <MidiMenu />
        <ChecksLine />
        <InspectorButton />
      </div>
      {shown && <Keybed declarations={declarations} />}
    </section>
  );
}

/** Leads to the notes of a hit, and says in a few words how they go. */
function NotesButton() {
  const sound = useBench((state) => state.document);
  const chosen = useBench(({ selection }) => selection.kind === "notes");
  if (!sound) return null;
  return (
    <button
      type="button"
      title="Chord, mono and legato, patterns"
      className={`min-h-6 rounded-control border px-2 text-[12px] whitespace-nowrap ${chosen ? "border-ink bg-sheet" : "border-line-strong bg-sheet hover:bg-band"}`}
      onClick={() => select({ kind: "notes" })}
    >
      Notes: {notesWords(sound)}
    </button>
  );
}

async function fetchPhrases() {
  return (await resultOf(api.GET("/api/playing/phrases"))).phrases;
}

function Phrases() {
  const phrases = useQuery({ queryKey: ["phrases"], queryFn: fetchPhrases, staleTime: Infinity });
  const [chosen, setChosen] = useState("tap_and_hold");
  const [busy, setBusy] = useState(false);
  const playPhrase = async (name: string) => {
    const { document } = useBench.getState();
    if (!document) return;
    setBusy(true);
    try {
      play(await renderPhrase(document, name), `phrase:${name}`);
    } catch (error) {
      const reason = error instanceof ApiError ? error.message : "The phrase could not be played";
      useBench.setState({ auditionProblem: reason });
    } finally {
      setBusy(false);
    }
  };
  return (
    <span className="inline-flex items-center gap-1 text-[12px]">
      <label className="inline-flex items-center gap-1.5">
        Phrase
        <select
          className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
          value={chosen}
          onChange={(event) => {
            setChosen(event.target.value);
            void playPhrase(event.target.value);
          }}
        >
          {phrases.data?.map(({ name, label }) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <button
        type="button"
        aria-label="Play the phrase"
        title="Play the phrase"
        disabled={busy}
        className="grid size-6 place-items-center rounded-sm hover:bg-band"
        onClick={() => void playPhrase(chosen)}
      >
        <Play size={13} aria-hidden />
      </button>
    </span>
  );
}
