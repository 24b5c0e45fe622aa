import type { Parameter } from "../api";
import { hzToNote, noteName, noteToHz, parseNote } from "./notes";

export type Unit = Parameter["unit"];

/** What a typed value may refer to. */
export interface UnitContext {
  tempoBpm: number;
  /** The field shows beats, so that a bare number is one of beats. */
  inBeats?: boolean;
  /** Of semitones: the pitch at 0 st in Hz, where it is known, so that Hz and notes can be typed. */
  baseHz?: number | null;
}

/** ``beats`` where a time was typed so, which then follows the tempo. */
export type Parsed = { ok: true; value: number; beats?: number } | { ok: false; message: string };

const signed = (value: number, digits: number) => {
  const text = trimmed(Math.abs(value), digits);
  return Number(text) === 0 ? "0" : `${value < 0 ? "−" : "+"}${text}`;
};

function trimmed(value: number, digits: number): string {
  const text = value.toFixed(digits);
  return text.includes(".") ? text.replace(/\.?0+$/, "") : text;
}

/** A stored number as it is read on screen, with its unit. */
export function formatValue(value: number, unit: Unit): string {
  switch (unit) {
    case "Hz":
      if (value >= 1000) return `${(value / 1000).toPrecision(3)} kHz`;
      return `${value >= 100 ? value.toFixed(1) : value.toFixed(2)} Hz`;
    case "s":
      return value < 1
        ? `${trimmed(value * 1000, value < 0.01 ? 2 : 1)} ms`
        : `${trimmed(value, 3)} s`;
    case "st":
      return `${signed(value, 2)} st`;
    case "cent":
      return `${signed(value, 1)} ct`;
    case "dB":
      return `${signed(value, 1)} dB`;
    case "deg":
      return `${trimmed(value, 1)}°`;
    case "percent":
      return `${trimmed(value * 100, 1)} %`;
    case "note":
      return `${noteName(Math.round(value))}`;
    case "bpm":
      return trimmed(value, 2);
    case "beat":
      return `${trimmed(value, 3)} beats`;
    case "octave":
      return `${signed(value, 2)} oct`;
    case "m":
      return `${trimmed(value, 1)} m`;
    case "":
      return trimmed(value, 3);
  }
}

const NUMBER = /^([+\-−]?\s*(?:\d+\s*\/\s*\d+|\d*[.,]?\d+|\d+[.,]))\s*(.*)$/;

const RATIO = /^(\d+(?:[.,]\d+)?)\s*:\s*(\d+(?:[.,]\d+)?)$/;

function readNumber(text: string): number {
  const plain = text.replace(/\s+/g, "").replace("−", "-").replace(",", ".");
  const [top, bottom] = plain.split("/");
  return bottom === undefined ? Number(top) : Number(top) / Number(bottom);
}

/** Factors from a typed suffix to the stored unit; the empty suffix is what the field shows. */
const SUFFIXES: Record<Exclude<Unit, "note">, Record<string, number>> = {
  Hz: { "": 1, hz: 1, k: 1000, khz: 1000 },
  s: { "": 0.001, ms: 0.001, s: 1, sec: 1, us: 1e-6, min: 60 },
  st: { "": 1, st: 1, semi: 1, semitones: 1, oct: 12, ct: 0.01, cent: 0.01, cents: 0.01 },
  cent: { "": 1, ct: 1, cent: 1, cents: 1, st: 100 },
  dB: { "": 1, db: 1 },
  deg: { "": 1, "°": 1, deg: 1, rad: 180 / Math.PI },
  percent: { "": 0.01, "%": 0.01, percent: 0.01 },
  bpm: { "": 1, bpm: 1 },
  beat: { "": 1, beat: 1, beats: 1 },
  octave: { "": 1, oct: 1, st: 1 / 12 },
  m: { "": 1, m: 1 },
  "": { "": 1 },
};

const EXAMPLES: Record<Unit, string> = {
  Hz: "55, 55 Hz, 1.2 kHz or A1",
  s: "28 ms, 1.2 s, 1/4 or 2 beats",
  st: "-24 st or 2 oct",
  cent: "12 ct",
  dB: "-6 dB",
  deg: "90°",
  percent: "50 or 50 %",
  note: "G1 or 49 Hz",
  bpm: "96",
  beat: "16 beats or 1/4",
  octave: "-2 oct",
  m: "6 m",
  "": "1.5 or 8:1",
};

export const BEATS_A_BAR = 4;

/** Beats: "3/8 beat", "16 beats", "4 bars"; "16 beats at 90" is in seconds, whatever the tempo. */
function parseBeats(amount: number, suffix: string, context: UnitContext): Parsed | null {
  const match = /^(b|beats?|bars?)(?:\s*(?:at|@)\s*(\d+(?:\.\d+)?)(?:\s*bpm)?)?$/.exec(suffix);
  if (!match) return null;
  const beats = amount * (match[1]?.startsWith("bar") ? BEATS_A_BAR : 1);
  if (match[2] !== undefined) return { ok: true, value: (beats * 60) / Number(match[2]) };
  return { ok: true, value: (beats * 60) / context.tempoBpm, beats };
}

const NOTE_VALUE = /^(\d+)\s*\/\s*(\d+)\s*([td.]?)$/i;

/** A note value as a sequencer writes it, in beats: 1/4, 1/8t (triplet), 1/8d or 1/8. (dotted). */
function noteValueBeats(text: string): number | null {
  const match = NOTE_VALUE.exec(text.trim());
  if (!match || Number(match[2]) === 0) return null;
  const factor = match[3] === "" ? 1 : match[3]?.toLowerCase() === "t" ? 2 / 3 : 1.5;
  return (BEATS_A_BAR * factor * Number(match[1])) / Number(match[2]);
}

/** A pitch typed as a note or in Hz, in semitones from a base. */
function asSemitones(text: string, baseHz: number | null): Parsed | null {
  const note = parseNote(text);
  const hertz = note === null ? /^([\d.,]+)\s*(k?)hz$/i.exec(text.trim()) : null;
  if (note === null && !hertz) return null;
  if (baseHz === null)
    return { ok: false, message: "The pitch at 0 st is not known here: type semitones" };
  const typed = readNumber(hertz?.[1] ?? "") * (hertz?.[2] ? 1000 : 1);
  const hz = note === null ? typed : noteToHz(note);
  if (!(hz > 0)) return { ok: false, message: "A frequency lies above 0 Hz" };
  return { ok: true, value: 12 * Math.log2(hz / baseHz) };
}

/** Read what was typed into a field of a unit. */
export function parseValue(text: string, unit: Unit, context: UnitContext): Parsed {
  const refused: Parsed = { ok: false, message: `Type a value like ${EXAMPLES[unit]}` };
  const note = parseNote(text);
  if (note !== null && unit === "note") return { ok: true, value: note };
  if (note !== null && unit === "Hz") return { ok: true, value: noteToHz(note) };
  const semitones =
    unit === "st" && context.baseHz !== undefined ? asSemitones(text, context.baseHz) : null;
  if (semitones) return semitones;
  const beats = unit === "s" || unit === "beat" ? noteValueBeats(text) : null;
  if (beats !== null)
    return unit === "beat"
      ? { ok: true, value: beats }
      : { ok: true, value: (beats * 60) / context.tempoBpm, beats };
  // A ratio is typed as the trade writes it: 8:1.
  const ratio = unit === "" ? RATIO.exec(text.trim()) : null;
  if (ratio && Number(ratio[2]) > 0)
    return { ok: true, value: readNumber(ratio[1] ?? "") / readNumber(ratio[2] ?? "") };
  const match = NUMBER.exec(text.trim());
  if (!match) return refused;
  const amount = readNumber(match[1] ?? "");
  const suffix = (match[2] ?? "").trim().toLowerCase();
  if (!Number.isFinite(amount)) return refused;
  if (unit === "note") {
    if (suffix === "") return { ok: true, value: Math.round(amount) };
    return suffix === "hz" && amount > 0
      ? { ok: true, value: Math.round(hzToNote(amount)) }
      : refused;
  }
  if (unit === "s") {
    const inBeats = parseBeats(amount, suffix || (context.inBeats ? "beats" : ""), context);
    if (inBeats !== null) return inBeats;
  }
  const factor = SUFFIXES[unit][suffix];
  return factor === undefined ? refused : { ok: true, value: amount * factor };
}

/** What was typed as a value of a unit, or something else where it is none. */
export function typedOr<Other>(text: string, unit: Unit, other: Other, tempoBpm = 120) {
  const read = parseValue(text, unit, { tempoBpm });
  return read.ok ? read.value : other;
}

/** What is wrong with a value in its range, or null. */
export function rangeProblem(value: number, parameter: Parameter): string | null {
  const { minimum, maximum, unit } = parameter;
  if (value >= minimum - 1e-9 && value <= maximum + 1e-9) return null;
  return `${formatValue(minimum, unit)} to ${formatValue(maximum, unit)}`;
}
