import type { Declarations, Parameter, Sound } from "../../api";
import { ValueField, noteName, noteToHz, settled, formatValue, useMedia } from "../../ui";
import { offerStretch } from "./TempoOffer";
import { beatsOf, edit, timePatch, useBench } from "../../sound";

interface HitField {
  key: "note" | "hold_s" | "velocity" | "tempo_bpm";
  width: string;
}

const FIELDS: HitField[] = [
  { key: "note", width: "w-[86px] max-[1200px]:w-[40px]" },
  { key: "hold_s", width: "w-[66px]" },
  { key: "velocity", width: "w-[32px]" },
  { key: "tempo_bpm", width: "w-[36px]" },
];

/** As a narrow field has room for. */
const hertz = (hz: number) => (hz < 1000 ? `${hz.toFixed(1)} Hz` : formatValue(hz, "Hz"));

function read(sound: Sound, key: HitField["key"]): number {
  return key === "tempo_bpm" ? sound.tempo_bpm : sound.hit[key];
}

function write(sound: Sound, key: HitField["key"], value: number, beats?: number): Sound {
  if (key === "tempo_bpm") return { ...sound, tempo_bpm: value };
  const patch = key === "hold_s" ? timePatch(sound.hit, key, value, beats) : { [key]: value };
  return { ...sound, hit: { ...sound.hit, ...patch } };
}

/** Note, hold, velocity and tempo of the hit that the Bench plays. */
export function HitFields({ declarations }: { declarations: Declarations }) {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const all = [...declarations.hit.parameters, ...declarations.sound.parameters];
  return (
    <div
      className="flex h-8 items-center divide-x divide-line-strong rounded-control border border-line-strong bg-sheet tight:order-1"
      role="group"
      aria-label="Hit"
    >
      {FIELDS.map(({ key, width }) => {
        const parameter = all.find((one) => one.name === key);
        return (
          parameter && (
            <Field key={key} sound={sound} name={key} parameter={parameter} width={width} />
          )
        );
      })}
    </div>
  );
}

interface FieldProps {
  sound: Sound;
  name: HitField["key"];
  parameter: Parameter;
  width: string;
}

function Field({ sound, name, parameter, width }: FieldProps) {
  const value = read(sound, name);
  const wide = useMedia("(min-width: 1200px)");
  const beats = beatsOf(sound.hit, name);
  const set = (next: number, typed?: number) => {
    const kept = typed === undefined ? settled(next, parameter) : next;
    const shown =
      typed === undefined ? formatValue(kept, parameter.unit) : formatValue(typed, "beat");
    const words = `${parameter.label} ${formatValue(value, parameter.unit)} → ${shown}`;
    edit(words, (now) => write(now, name, kept, typed));
    if (name === "tempo_bpm") offerStretch(value);
  };
  return (
    <label
      className="flex items-center gap-1 px-2"
      title={name === "note" ? `${noteName(value)}, ${noteToHz(value).toFixed(2)} Hz` : undefined}
    >
      <span className="text-[11px] text-ink-2" title={parameter.label}>
        {wide || name !== "velocity" ? parameter.label : "Vel"}
      </span>
      <ValueField
        id={`hit-${name}`}
        className={width}
        label={parameter.label}
        parameter={parameter}
        value={value}
        beats={beats}
        context={{ tempoBpm: sound.tempo_bpm }}
        aside={name === "note" && wide ? hertz(noteToHz(value)) : undefined}
        onNudge={(direction, event) =>
          set(value + direction * parameter.step * (event.shiftKey ? 12 : 1))
        }
        onValue={set}
      />
    </label>
  );
}
