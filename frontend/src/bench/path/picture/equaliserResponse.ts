import type { Processor } from "../../../api";

export type Equaliser = Extract<Processor, { kind: "equaliser" }>;
export type BandName = `band_${1 | 2 | 3 | 4 | 5 | 6 | 7 | 8}`;
export type Band = Equaliser[BandName];

export const BAND_NAMES: BandName[] = [
  "band_1",
  "band_2",
  "band_3",
  "band_4",
  "band_5",
  "band_6",
  "band_7",
  "band_8",
];

/** Bands with a gain; cuts and notches have none. */
export const hasGain = ({ response }: Band) =>
  ["peak", "low_shelf", "high_shelf"].includes(response);

const SHARPEST_SHELF = 4;

/** Magnitude of a band's analogue prototype in dB. */
export function bandDb(band: Band, hz: number): number {
  const x = hz / band.frequency_hz;
  const x2 = x * x;
  const a = 10 ** (band.gain_db / 40);
  const root = Math.sqrt(a);
  const q = band.response.endsWith("shelf")
    ? Math.min(SHARPEST_SHELF, band.sharpness)
    : band.sharpness;
  const size = Math.hypot;
  const [top, bottom] = ((): [number, number] => {
    switch (band.response) {
      case "peak":
        return [size(1 - x2, (x * a) / q), size(1 - x2, x / (a * q))];
      case "low_shelf":
        return [a * size(a - x2, (x * root) / q), size(1 - a * x2, (x * root) / q)];
      case "high_shelf":
        return [a * size(1 - a * x2, (x * root) / q), size(a - x2, (x * root) / q)];
      case "low_cut":
        return [x2, size(1 - x2, x / q)];
      case "high_cut":
        return [1, size(1 - x2, x / q)];
      case "notch":
        return [Math.abs(1 - x2), size(1 - x2, x / q)];
    }
  })();
  return 20 * Math.log10(Math.max(1e-5, top / Math.max(1e-9, bottom)));
}

/** All bands that are on, together. */
export const equaliserDb = (part: Equaliser, hz: number): number =>
  BAND_NAMES.reduce((sum, name) => sum + (part[name].on ? bandDb(part[name], hz) : 0), 0);

/** A bell that does nothing yet, or one that is off: free to be placed. */
export const freeBand = (part: Equaliser): BandName | undefined =>
  BAND_NAMES.find(
    (name) => part[name].on && part[name].response === "peak" && !part[name].gain_db,
  ) ?? BAND_NAMES.find((name) => !part[name].on);
