import { useState } from "react";
import type { Parameter } from "../../api";
import { FieldRow, formatValue, Button } from "../../ui";
import {
  CURVE_KINDS,
  type CurveName,
  editCurve,
  beatsOfFive,
  curveOfFive,
  fallTime,
  fiveOfCurve,
  type FiveNumbers,
  type FiveTime,
  withFiveNumber,
} from "../../sound";
import type { CurveProps } from "./curveProps";

type Key = keyof FiveNumbers;

function parameterOf(base: Parameter, key: Key, label: string, name: CurveName): Parameter {
  if (key.endsWith("_bend")) return { ...base, label, default: 0 };
  if (key.endsWith("_s")) return { ...base, label, default: 0.1 };
  const { unit, limits, step, neutral } = CURVE_KINDS[name];
  return { ...base, label, unit, minimum: limits[0], maximum: limits[1], step, default: neutral };
}

const LABELS: [Key, string][] = [
  ["start", "Start"],
  ["attack_s", "Attack"],
  ["attack_bend", "Attack bend"],
  ["peak", "Peak"],
  ["hold_s", "Hold"],
  ["decay_s", "Decay"],
  ["decay_bend", "Decay bend"],
  ["sustain", "Sustain"],
  ["release_s", "Release"],
  ["release_bend", "Release bend"],
  ["end", "End"],
];

/** A curve as attack, hold, decay, sustain and release: another view of the same points. */
export function FiveNumberFields({ sound, curveRef, curve, declarations }: CurveProps) {
  const { five, lost } = fiveOfCurve(curve);
  const [agreed, setAgreed] = useState(false);
  const point = (name: string) =>
    declarations.curve_point.parameters.find((one) => one.name === name);
  const [time, value, bend] = [point("time_s"), point("value"), point("bend")];
  if (!time || !value || !bend) return null;
  if (lost.length > 0 && !agreed) {
    return (
      <div className="grid gap-2 text-[12.5px]">
        <p>Five numbers cannot describe this curve. They would leave out:</p>
        <ul className="list-disc pl-5">
          {lost.map((what) => (
            <li key={what}>{what}</li>
          ))}
        </ul>
        <p className="text-ink-2">Undo brings it back.</p>
        <Button
          onClick={() => {
            setAgreed(true);
            editCurve(sound, curveRef, "made five numbers", () => curveOfFive(five));
          }}
        >
          Reduce it to five numbers
        </Button>
      </div>
    );
  }
  const inBeats = beatsOfFive(curve);
  const set = (key: Key, label: string, next: number | null, moving = false, beats?: number) => {
    const unit = key.endsWith("_s") ? "s" : CURVE_KINDS[curveRef.name].unit;
    const written = key.endsWith("_bend")
      ? formatValue(next ?? 0, "")
      : formatValue(next ?? 0, unit);
    editCurve(
      sound,
      curveRef,
      `${label.toLowerCase()} ${next === null ? "off" : written}`,
      (now) => withFiveNumber(now, key, next, beats),
      { gesture: `five-${key}`, moving },
    );
  };
  const oneShot = five.release_s === null;
  const shown = LABELS.filter(([key]) => {
    if (curveRef.name === "level" && ["start", "end"].includes(key)) return false;
    return !oneShot || !["release_s", "release_bend", "end"].includes(key);
  });
  const [by20, by40, by60] = [20, 40, 60].map((fall) => fallTime(five, fall));
  return (
    <div>
      {shown.map(([key, label]) => {
        const base = key.endsWith("_bend") ? bend : key.endsWith("_s") ? time : value;
        return (
          <FieldRow
            key={key}
            parameter={parameterOf(base, key, label, curveRef.name)}
            value={five[key] ?? 0}
            beats={inBeats[key as FiveTime]}
            context={{ tempoBpm: sound.tempo_bpm }}
            onChange={({ value: next, moving, beats }) => set(key, label, next, moving, beats)}
          />
        );
      })}
      <label className="mt-1 flex min-h-6 items-center justify-between">
        Release part
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={!oneShot}
          onChange={(event) => set("release_s", "Release", event.target.checked ? 0.06 : null)}
        />
      </label>
      {curveRef.name === "level" && five.decay_s > 0 && (
        <p className="mt-1 text-[11.5px] text-ink-2">
          Decay is the whole time from the peak to the sustain.{" "}
          {by20 != null && `−20 dB at ${formatValue(by20, "s")}`}
          {by40 != null && `, −40 at ${formatValue(by40, "s")}`}
          {by60 != null && `, −60 at ${formatValue(by60, "s")}`}
          {by20 == null ? `It stays above −20 dB.` : "."}
        </p>
      )}
    </div>
  );
}
