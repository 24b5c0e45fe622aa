import type { Parameter } from "../api";

type Range = Pick<Parameter, "minimum" | "maximum" | "scale">;

/** Where a value stands in its range, 0 to 1, by the range's own scale. */
export function toFraction(value: number, { minimum, maximum, scale }: Range): number {
  const linear = (value - minimum) / (maximum - minimum);
  const clamped = Math.min(1, Math.max(0, linear));
  switch (scale) {
    case "linear":
      return clamped;
    case "log":
      return Math.min(1, Math.max(0, Math.log(value / minimum) / Math.log(maximum / minimum)));
    case "time":
      return Math.cbrt(clamped);
  }
}

/** The value at a fraction of the range; the inverse of toFraction. */
export function fromFraction(fraction: number, { minimum, maximum, scale }: Range): number {
  const part = Math.min(1, Math.max(0, fraction));
  switch (scale) {
    case "linear":
      return minimum + part * (maximum - minimum);
    case "log":
      return minimum * (maximum / minimum) ** part;
    case "time":
      return minimum + part ** 3 * (maximum - minimum);
  }
}

/** A value rounded to what its field shows, and held in its range. */
export function settled(value: number, parameter: Parameter): number {
  const { minimum, maximum, step, whole, scale } = parameter;
  let rounded = value;
  if (whole) rounded = Math.round(value);
  else if (scale === "linear") rounded = Math.round(value / (step / 10)) * (step / 10);
  else if (value > 0) rounded = Number(value.toPrecision(4));
  return Number(Math.min(maximum, Math.max(minimum, rounded)).toPrecision(12));
}
