import { FileMusic, Plus } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { libraryForNewSounds, mayDo, useLibraries } from "../api";
import { chooseFiles, SoundFileButton } from "../imports";
import { useNewSound, useStarters } from "../sound";
import { Button, useTitle } from "../ui";

const FIRST_STEPS = [
  [
    "Make a sound",
    "New sound begins with one tone. A starter is a kick, a bell or a drone already.",
  ],
  ["Shape it over time", "Drag the points of its level and pitch on the ruler, or type them."],
  ["Add layers and processors", "A click for the attack, a filter, a reverb: the path shows all."],
  ["Listen", "Space plays. Every change plays by itself; the speaker turns that off."],
  ["Keep a take", "It is rendered and goes into a library, ready to download."],
] as const;

/** The Bench before there is a sound: how to begin, and what comes after. */
export function EmptyBench() {
  const navigate = useNavigate();
  const newSound = useNewSound();
  const [problem, setProblem] = useState<string | null>(null);
  useTitle("Bench");
  const starters = useStarters();
  const libraries = useLibraries().data ?? [];
  const listening = libraries.filter((one) => !mayDo(one, "sound.edit"));
  const onlyListens = libraries.length > 0 && listening.length === libraries.length;
  return (
    <main id="work" tabIndex={-1} className="min-w-0 flex-1 overflow-y-auto bg-sheet px-6 py-8">
      <div className="mx-auto grid max-w-[1000px] gap-8 min-[820px]:grid-cols-[minmax(0,1fr)_320px]">
        <section aria-label="Begin">
          <h1 className="font-title text-[22px] font-semibold">Make your first sound</h1>
          <p className="mt-1 text-ink-2">
            It stays a private draft until you name it or keep a take.
          </p>
          {(newSound.problem ?? problem) && (
            <p role="alert" className="mt-3 text-bad">
              {newSound.problem ?? problem}
            </p>
          )}
          <div className="mt-4 flex flex-wrap gap-2">
            <Button look="action" autoFocus disabled={newSound.busy} onClick={newSound.make}>
              <Plus size={15} aria-hidden /> New sound
            </Button>
            <Button onClick={chooseFiles}>
              <FileMusic size={15} aria-hidden /> Import audio…
            </Button>
            <SoundFileButton
              libraryId={async () => (await libraryForNewSounds()).id}
              onImported={(id) => void navigate(`/bench/${id}`)}
              onProblem={setProblem}
            />
          </div>
          <h2 className="mt-7 mb-2 text-[13px] font-semibold text-ink-2">Or start from</h2>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-2">
            {starters.map(({ category, words, document }) => (
              <li key={category}>
                <button
                  type="button"
                  disabled={newSound.busy}
                  onClick={() => newSound.makeFrom(document)}
                  className="h-full w-full rounded-card border border-line-strong bg-panel px-3 py-2 text-left hover:bg-band disabled:opacity-45"
                >
                  <span className="block font-semibold">{category}</span>
                  <span className="block text-[12px] text-ink-2">{words}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
        <aside
          aria-label="First steps"
          className="rounded-card border border-line-strong bg-panel p-4"
        >
          <h2 className="mb-2 font-title text-[16px] font-semibold">First steps</h2>
          <ol className="grid gap-3">
            {FIRST_STEPS.map(([title, words], n) => (
              <li key={title} className="grid grid-cols-[20px_minmax(0,1fr)] gap-x-2">
                <span aria-hidden className="figure text-action">
                  {n + 1}
                </span>
                <span>
                  <b className="block font-semibold">{title}</b>
                  <span className="text-[12.5px] text-ink-2">{words}</span>
                </span>
              </li>
            ))}
          </ol>
          {onlyListens && (
            <p className="mt-4 border-t border-line pt-3 text-[12.5px]">
              You may listen in{" "}
              {listening.map(({ id, name }, n) => (
                <span key={id}>
                  {n > 0 && ", "}
                  <Link to={`/libraries/${id}`} className="text-action underline">
                    {name}
                  </Link>
                </span>
              ))}
              . What you make here goes into a library of your own.
            </p>
          )}
        </aside>
      </div>
    </main>
  );
}
