import { useState } from "react";
import type { Declarations } from "../../api";
import { noteName } from "../../ui";
import { useBench } from "../../sound";
import { RangeFields } from "./RangeFields";
import { type Shown, shareAt, useRegister } from "./register";
import { letterOf, noteOff, noteOn, shiftOctave, useKeys } from "./keys";

const OCTAVES = 4;
const COLOURS: Record<Shown, string> = {
  level: "var(--teal)",
  harshness: "var(--rust)",
  fundamental: "var(--moss)",
};
const BLACK = [1, 3, 6, 8, 10];
const isBlack = (note: number) => BLACK.includes(note % 12);

/** Keys to be pressed by hand; each shows the letter that plays it, the sound's own note, and in a
 * bar how loud, harsh or pitched the sound is there; those outside the good range are faint. */
export function Keybed({ declarations }: { declarations: Declarations }) {
  const sound = useBench((state) => state.document);
  const readings = useRegister(true);
  const [shown, setShown] = useState<Shown>("level");
  const lowest = useKeys((state) => state.lowest);
  const down = useKeys((state) => state.down);
  const own = useBench((state) => state.document?.hit.note);
  const notes = Array.from({ length: 12 * OCTAVES + 1 }, (_, n) => lowest + n).filter(
    (note) => note <= 127,
  );
  const white = notes.filter((note) => !isBlack(note));
  const width = 100 / white.length;
  const shift =
    "min-h-6 w-14 rounded-control border border-line-strong bg-sheet text-[12px] hover:bg-band";
  return (
    <div className="flex h-[96px] items-stretch gap-2 px-3.5 pb-2" role="group" aria-label="Keys">
      <div className="grid content-center gap-1">
        <button
          type="button"
          className={shift}
          title="Octave up (X)"
          onClick={() => shiftOctave(1)}
        >
          oct +
        </button>
        <button
          type="button"
          className={shift}
          title="Octave down (Z)"
          onClick={() => shiftOctave(-1)}
        >
          oct −
        </button>
      </div>
      <div className="relative min-w-0 flex-1 touch-none">
        {notes.map((note) => {
          const black = isBlack(note);
          const before = white.filter((one) => one < note).length;
          const pressed = down.includes(note);
          const place = black
            ? { left: `${before * width - width * 0.3}%`, width: `${width * 0.6}%` }
            : { left: `${before * width}%`, width: `${width}%` };
          const size = black ? "z-10 h-[58%]" : "h-full";
          const good =
            !sound || (note >= sound.playing.good_low && note <= sound.playing.good_high);
          const share = readings ? shareAt(readings, note, shown) : 0;
          const look = black ? "bg-ink text-sheet" : "bg-sheet text-ink-2";
          return (
            <button
              key={note}
              type="button"
              aria-label={noteName(note)}
              aria-pressed={pressed}
              className={`absolute top-0 flex flex-col items-center justify-end rounded-b-sm border border-line-strong pb-0.5 text-[9.5px] leading-3 ${size} ${pressed ? "bg-action text-action-ink" : look}`}
              style={{ ...place, opacity: good ? 1 : 0.55 }}
              title={good ? undefined : `${noteName(note)}: outside the good range`}
              onPointerDown={(event) => {
                event.currentTarget.setPointerCapture(event.pointerId);
                noteOn(note);
              }}
              onPointerUp={() => noteOff(note)}
              onPointerCancel={() => noteOff(note)}
              onKeyDown={(event) => {
                if (event.key !== "Enter" || event.repeat) return;
                event.preventDefault();
                noteOn(note);
              }}
              onKeyUp={(event) => event.key === "Enter" && noteOff(note)}
              onBlur={() => noteOff(note)}
            >
              {readings && (
                <span
                  aria-hidden
                  className="absolute inset-x-0.5 top-0.5 rounded-sm"
                  style={{
                    height: `${Math.max(2, share * (black ? 60 : 42))}%`,
                    background: `color-mix(in srgb, ${COLOURS[shown]} ${Math.round(35 + 65 * share)}%, transparent)`,
                  }}
                />
              )}
              {note === own && (
                <span
                  className="relative mb-auto mt-1 size-1.5 rounded-full bg-action"
                  title="The sound's note"
                />
              )}
              <span>{letterOf(note - lowest)}</span>
              {note % 12 === 0 && <span className="figure">{noteName(note)}</span>}
            </button>
          );
        })}
      </div>
      {sound && (
        <RangeFields
          sound={sound}
          declarations={declarations}
          readings={readings}
          shown={shown}
          onShown={setShown}
        />
      )}
    </div>
  );
}
