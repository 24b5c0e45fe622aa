import { Pin as PinIcon, Play } from "lucide-react";
import type { Sound } from "../../api";
import { Button } from "../../ui";
import { playDocument } from "../playing";
import { edit, useBench, pinsOf, setPin, usePins } from "../../sound";

const SHOWN = 200;

/** Every step since the sound was opened: hear it, go back to it, or pin it to compare. */
export function SessionSteps() {
  const past = useBench((state) => state.past);
  const pins = usePins(pinsOf);
  const free = pins.findIndex((pin) => pin === null);
  const steps = past
    .map(({ label, after }, n) => ({ number: n + 1, label, document: after }))
    .reverse()
    .slice(0, SHOWN);
  if (steps.length === 0)
    return <p className="text-ink-2">No changes since the sound was opened.</p>;
  const bringBack = (document: Sound, number: number) =>
    edit(`Step ${number} restored`, () => document);
  return (
    <ol className="grid max-h-[56vh] gap-1 overflow-y-auto" aria-label="Steps of this session">
      {steps.map(({ number, label, document }) => (
        <li
          key={number}
          className="flex items-center gap-2 rounded-control border border-line bg-sheet px-2 py-1"
        >
          <span className="figure w-8 text-[11px] text-ink-2">{number}</span>
          <span className="min-w-0 flex-1 truncate">{label}</span>
          <Button
            className="min-h-6 px-2"
            aria-label={`Play step ${number}`}
            onClick={() => void playDocument(document)}
          >
            <Play size={12} aria-hidden />
          </Button>
          <Button
            className="min-h-6 px-2"
            aria-label={`Pin step ${number}`}
            title={free < 0 ? "All four pins are in use" : `Pin it as ${free + 1}`}
            disabled={free < 0}
            onClick={() => setPin(free, { document, loudnessLufs: null })}
          >
            <PinIcon size={12} aria-hidden />
          </Button>
          <Button className="min-h-6 px-2" onClick={() => bringBack(document, number)}>
            Restore
          </Button>
        </li>
      ))}
    </ol>
  );
}
