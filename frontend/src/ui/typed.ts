import type { Parameter } from "../api";
import { formatValue, parseValue, rangeProblem, type Parsed, type UnitContext } from "./units";

/**
 * A bare number is one of the unit that the field shows; where only the other is in range, of that:
 * 800 in a field of 1.2 kHz is 800 Hz.
 */
function bareUnits(parameter: Parameter, value: number, inBeats: boolean): string[] {
  switch (parameter.unit) {
    case "s":
      if (inBeats) return ["beats"];
      return value < 1 ? ["ms", "s"] : ["s", "ms"];
    case "Hz":
      return value >= 1000 ? ["kHz", "Hz"] : ["Hz", "kHz"];
    default:
      return [""];
  }
}

const BARE = /^[+\-−]?\s*(\d+[.,]?\d*|[.,]\d+)$/;

/** The unit of a bare number in a field, as its tip says it. */
export function bareUnitWords(parameter: Parameter, value: number, inBeats: boolean): string {
  if (parameter.unit === "percent") return "A bare number is in %: 27 is 27 %";
  const [unit] = bareUnits(parameter, value, inBeats);
  return unit ? `A bare number is in ${unit}` : "";
}

/** Read what was typed into a field that shows a value; a refusal names the unit and the range. */
export function readTyped(
  text: string,
  parameter: Parameter,
  value: number,
  context: UnitContext,
): Parsed {
  const bare = BARE.test(text.trim());
  const inBeats = context.inBeats === true;
  const tries = bare
    ? bareUnits(parameter, value, inBeats).map((unit) => `${text} ${unit}`)
    : [text];
  const read = tries.map((one) => {
    const parsed = parseValue(one, parameter.unit, context);
    const wrong = parsed.ok ? rangeProblem(parsed.value, parameter) : null;
    return wrong === null ? parsed : { ok: false as const, message: wrong };
  });
  const found = read.find(({ ok }) => ok) ?? read[0];
  if (!found) return { ok: false, message: rangeWords(parameter) };
  const range = rangeWords(parameter);
  return found.ok || found.message.includes(range)
    ? found
    : { ok: false, message: `${found.message}, from ${range}` };
}

const rangeWords = ({ minimum, maximum, unit }: Parameter) =>
  `${formatValue(minimum, unit)} to ${formatValue(maximum, unit)}`;
