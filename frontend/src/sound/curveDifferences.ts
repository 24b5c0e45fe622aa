import type { Curve } from "../api";
import { formatValue } from "../ui";
import { CURVE_KINDS, type CurveName } from "./curveRef";
import { fiveOfCurve, type FiveNumbers } from "./fiveNumbers";

const FIVE: [keyof FiveNumbers, string, "time" | "value" | "bend"][] = [
  ["start", "start", "value"],
  ["attack_s", "attack", "time"],
  ["attack_bend", "attack bend", "bend"],
  ["peak", "peak", "value"],
  ["hold_s", "hold", "time"],
  ["decay_s", "decay", "time"],
  ["decay_bend", "decay bend", "bend"],
  ["sustain", "sustain", "value"],
  ["release_s", "release", "time"],
  ["release_bend", "release bend", "bend"],
  ["end", "end", "value"],
];

/** What changed of a curve in words, by its five numbers where they say all of it, else by points. */
export function curveDifferences(before: Curve, after: Curve, name: CurveName): string[] {
  if (JSON.stringify(before) === JSON.stringify(after)) return [];
  const valueUnit = CURVE_KINDS[name].unit;
  const [was, is] = [fiveOfCurve(before), fiveOfCurve(after)];
  const prefix = name === "pitch" ? "pitch " : "";
  if (was.lost.length === 0 && is.lost.length === 0) {
    const units = { time: "s" as const, value: valueUnit, bend: "" as const };
    const words = FIVE.flatMap(([key, label, kind]) => {
      const [old, now] = [was.five[key], is.five[key]];
      if (old === now) return [];
      const text = (value: number | null) =>
        value === null ? "off" : formatValue(value, units[kind]);
      return [`${prefix}${label} ${text(old)} → ${text(now)}`];
    });
    if (words.length > 0) return words;
  }
  const alike =
    before.points.length === after.points.length && before.release.length === after.release.length;
  const words = (["points", "release"] as const).flatMap((part) =>
    !alike
      ? []
      : after[part].flatMap((now, n) => {
          const old = before[part][n];
          if (!old || JSON.stringify(old) === JSON.stringify(now)) return [];
          const label = `${name} curve, ${part === "release" ? "release " : ""}point ${n + 1}`;
          if (old.time_s !== now.time_s)
            return [`${label} ${formatValue(old.time_s, "s")} → ${formatValue(now.time_s, "s")}`];
          if (old.value !== now.value)
            return [
              `${label} ${formatValue(old.value, valueUnit)} → ${formatValue(now.value, valueUnit)}`,
            ];
          return [`${label} bend ${formatValue(old.bend, "")} → ${formatValue(now.bend, "")}`];
        }),
  );
  return words.length > 0 ? words : [`${name} curve`];
}
