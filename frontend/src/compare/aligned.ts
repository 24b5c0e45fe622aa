import type { ComparedAnswer } from "../api";

const RATE = 48000;

type Channels = Float32Array<ArrayBuffer>[];

/** Samples of a side on the common ruler, with its gain: all sides are equally long then. */
export function laidOut(
  channels: readonly Float32Array[],
  side: { starts_s: number; gain_db: number },
  frames: number,
): Channels {
  const at = Math.round(side.starts_s * RATE);
  const gain = 10 ** (side.gain_db / 20);
  return channels.map((samples) => {
    const laid = new Float32Array(frames);
    const count = Math.max(0, Math.min(samples.length, frames - at));
    for (let n = 0; n < count; n++) laid[at + n] = (samples[n] ?? 0) * gain;
    return laid;
  });
}

/** What is left where the second is taken from the first. */
export function differenceOf(first: Channels, second: Channels): Channels {
  const channels = Math.max(first.length, second.length);
  return Array.from({ length: channels }, (_, n) => {
    const one = first[Math.min(n, first.length - 1)] ?? new Float32Array(0);
    const other = second[Math.min(n, second.length - 1)] ?? new Float32Array(0);
    return one.map((value, frame) => value - (other[frame] ?? 0));
  });
}

export const framesOf = (compared: Pick<ComparedAnswer, "length_s">): number =>
  Math.max(1, Math.round(compared.length_s * RATE));

export const peakOf = (sides: readonly Channels[]): number =>
  sides.reduce(
    (peak, channels) =>
      channels.reduce(
        (most, samples) => samples.reduce((top, value) => Math.max(top, Math.abs(value)), most),
        peak,
      ),
    0,
  );
