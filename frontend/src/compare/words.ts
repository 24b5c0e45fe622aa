import { formatValue } from "../ui";

const plain = (value: number, digits: number) => String(Number(value.toFixed(digits)));

const hertz = (hz: number) => (hz >= 1000 ? `${plain(hz / 1000, 1)} kHz` : `${plain(hz, 0)} Hz`);

/** A range of frequencies, as short as it can be said. */
export function bandText(fromHz: number, toHz: number): string {
  const [open, closed] = [fromHz <= 30, toHz >= 15_000];
  if (open && closed) return "all bands";
  if (open) return `below ${hertz(toHz)}`;
  if (closed) return `above ${hertz(fromHz)}`;
  return rangeText(fromHz, toHz);
}

/** From one frequency to another, both said. */
export function rangeText(fromHz: number, toHz: number): string {
  if (fromHz >= 1000) return `${plain(fromHz / 1000, 1)}–${hertz(toHz)}`;
  return toHz < 1000 ? `${plain(fromHz, 0)}–${hertz(toHz)}` : `${hertz(fromHz)} – ${hertz(toHz)}`;
}

/** A stretch of time: in ms, or in s where it is long. */
export function stretchText(fromS: number, toS: number): string {
  if (toS < 1) return `${plain(fromS * 1000, 0)}–${plain(toS * 1000, 0)} ms`;
  return `${plain(fromS, 2)}–${plain(toS, 2)} s`;
}

/** A level of a map that ends at ``most``. */
export const boundedDb = (db: number, most: number): string =>
  Math.abs(db) >= most ? `${db < 0 ? "−" : "+"}${most} dB or more` : formatValue(db, "dB");
