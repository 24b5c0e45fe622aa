import type { Declarations, Sound } from "../../api";
import { ValueField, noteName, settled } from "../../ui";
import { edit } from "../../sound";
import { goodRange, type Reading, type Shown } from "./register";

interface Props {
  sound: Sound;
  declarations: Declarations;
  readings: Reading[] | null;
  shown: Shown;
  onShown: (shown: Shown) => void;
}

const SHOWN: { shown: Shown; words: string }[] = [
  { shown: "level", words: "Level" },
  { shown: "harshness", words: "Harshness, 2 to 6 kHz" },
  { shown: "fundamental", words: "Fundamental" },
];

/** What the keys' bars show, and the range that is good, which is kept with the sound. */
export function RangeFields({ sound, declarations, readings, shown, onShown }: Props) {
  const { good_low: low, good_high: high } = sound.playing;
  const set = (patch: Partial<Sound["playing"]>, words: string) =>
    edit(`Good range ${words}`, (now) => ({ ...now, playing: { ...now.playing, ...patch } }));
  const field = (name: "good_low" | "good_high", value: number, label: string) => {
    const parameter = declarations.playing.parameters.find((one) => one.name === name);
    if (!parameter) return null;
    const put = (next: number) => {
      const note = settled(next, parameter);
      const patch =
        name === "good_low"
          ? { good_low: note, good_high: Math.max(note, high) }
          : { good_high: note, good_low: Math.min(note, low) };
      set(patch, `${label} ${noteName(note)}`);
    };
    return (
      <ValueField
        id={`good-${name}`}
        label={`Good ${label}`}
        parameter={parameter}
        value={value}
        context={{ tempoBpm: sound.tempo_bpm }}
        className="w-[52px]"
        onNudge={(direction) => put(value + direction)}
        onValue={put}
      />
    );
  };
  const suggest = () => {
    const found = readings && goodRange(readings, sound.hit.note);
    if (found)
      set(
        { good_low: found.low, good_high: found.high },
        `${noteName(found.low)} to ${noteName(found.high)}`,
      );
  };
  return (
    <div className="grid w-[168px] shrink-0 content-center gap-1 text-[11.5px]">
      <select
        aria-label="Keys show"
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1"
        value={shown}
        onChange={({ target }) => onShown(target.value as Shown)}
      >
        {SHOWN.map(({ shown: one, words }) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
      <div className="flex items-center gap-1">
        Good {field("good_low", low, "from")} to {field("good_high", high, "to")}
      </div>
      <button
        type="button"
        className="min-h-6 rounded-control border border-line-strong bg-sheet hover:bg-band disabled:opacity-45"
        title="Around the root note: similar level and brightness, fundamental present"
        disabled={readings === null || goodRange(readings, sound.hit.note) === null}
        onClick={suggest}
      >
        Suggest the range
      </button>
    </div>
  );
}
