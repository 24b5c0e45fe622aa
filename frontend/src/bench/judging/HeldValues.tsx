import type { Declarations, Sound } from "../../api";
import { noteToHz, formatValue } from "../../ui";
import { movedUnit, valueAt, targetsOf, useBench } from "../../sound";
import { Section } from "../parts";

interface Props {
  sound: Sound;
  declarations: Declarations;
}

/** Where a held note has come to rest: every pitch, and whatever else is moved. */
export function HeldValues({ sound, declarations }: Props) {
  const details = useBench((state) => state.details);
  if (!details) return null;
  const pitches = sound.layers.flatMap(({ id, name }) => {
    const { held_st, base_hz } = details.layers[id] ?? {};
    if (typeof held_st !== "number" || typeof base_hz !== "number") return [];
    const hz = formatValue(base_hz * 2 ** (held_st / 12), "Hz");
    const off = Math.abs(held_st) > 0.05;
    return [
      { key: id, name: `${name}: pitch`, words: `${formatValue(held_st, "st")} · ${hz}`, off },
    ];
  });
  const moved = targetsOf(sound, declarations).flatMap(({ target, owner, parameter }) => {
    const held = details.held[target];
    if (held === undefined || target.endsWith("pitch_st")) return [];
    const base = valueAt(sound, target);
    const octaves = movedUnit(parameter) === "octave";
    const by = octaves ? Math.log2(held / base) : held - base;
    const words = `${formatValue(by, movedUnit(parameter))} · ${formatValue(held, parameter.unit)}`;
    return [{ key: target, name: `${owner}: ${parameter.label}`, words, off: false }];
  });
  const note = formatValue(noteToHz(sound.hit.note), "Hz");
  return (
    <Section title="At the end of the hold" aside={`note ${note}`}>
      <dl className="grid gap-0.5">
        {[...pitches, ...moved].map(({ key, name, words, off }) => (
          <div key={key} className="flex min-h-5 items-baseline justify-between gap-2">
            <dt className="min-w-0 truncate" title={name}>
              {name}
            </dt>
            <dd
              className={`figure text-[11.5px] whitespace-nowrap ${off ? "text-warn" : "text-ink-2"}`}
            >
              {words}
            </dd>
          </div>
        ))}
      </dl>
    </Section>
  );
}
