import type { Curve } from "../../api";
import { formatValue } from "../../ui";
import { CURVE_KINDS, type CurveName } from "../../sound";

/** The upright axis of a curve: its range, and where a value lies in a lane of some height. */
export interface CurveAxis {
  low: number;
  high: number;
  y(value: number): number;
  value(y: number): number;
  format(value: number): string;
}

const MARGIN = 9;

function rangeOf(curve: Curve, name: CurveName): [number, number] {
  if (name !== "pitch") return CURVE_KINDS[name].limits;
  const values = [...curve.points, ...curve.release].map((point) => point.value);
  const low = Math.min(0, ...values);
  const high = Math.max(0, ...values);
  // Room above and below, at least an octave, so that a flat pitch can be pulled either way.
  const room = Math.max(4, (high - low) * 0.12, (24 - (high - low)) / 2);
  return [Math.max(-120, low - room), Math.min(120, high + room)];
}

function amplitude(value: number): string {
  const level = value <= 0 ? "−∞ dB" : formatValue(20 * Math.log10(value), "dB");
  return `${formatValue(value, "percent")} · ${level}`;
}

export function curveAxis(
  curve: Curve,
  name: CurveName,
  height: number,
  held: [number, number] | null,
): CurveAxis {
  const [low, high] = held ?? rangeOf(curve, name);
  const reach = height - 2 * MARGIN;
  return {
    low,
    high,
    y: (value) => MARGIN + (1 - (value - low) / (high - low)) * reach,
    value: (y) => Math.min(high, Math.max(low, low + (1 - (y - MARGIN) / reach) * (high - low))),
    format: (value) =>
      name === "level" ? amplitude(value) : formatValue(value, CURVE_KINDS[name].unit),
  };
}

/** A value rounded to what is shown. */
export function roundedValue(value: number, name: CurveName): number {
  const parts = CURVE_KINDS[name].unit === "percent" ? 1000 : 100;
  return Math.round(value * parts) / parts;
}

export const roundedTime = (timeS: number) => Math.max(0, Math.round(timeS * 1e5) / 1e5);
