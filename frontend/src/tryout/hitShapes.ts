import type { PlayedSource, RoundEvent, RoundPlan, TryOutPart } from "../api";
import { bedWish, hitWish, readyAudio, velocityGain, type Heard } from "../loop";

const COLUMNS_A_SECOND = 160;
const MOST_COLUMNS = 3000;
/** Of a column of a long sound so many samples are looked at, which is enough to draw it. */
const MOST_SAMPLES = 96;

/** A hit as it is drawn: lowest and highest sample of each column, and the largest of all. */
export interface HitOutline {
  extremes: Float32Array;
  peak: number;
}

const outlines = new WeakMap<AudioBuffer, HitOutline>();

/** The outline of a buffer over all channels, worked out once. */
export function outlineOf(buffer: AudioBuffer): HitOutline {
  const known = outlines.get(buffer);
  if (known) return known;
  const columns = Math.max(
    24,
    Math.min(MOST_COLUMNS, Math.ceil(buffer.duration * COLUMNS_A_SECOND)),
  );
  let peak = 1e-4;
  const found = new Float32Array(2 * columns);
  for (let channel = 0; channel < buffer.numberOfChannels; channel++) {
    const samples = buffer.getChannelData(channel);
    for (let column = 0; column < columns; column++) {
      const first = Math.floor((column / columns) * samples.length);
      const last = Math.max(first + 1, Math.floor(((column + 1) / columns) * samples.length));
      let low = found[2 * column] ?? 0;
      let high = found[2 * column + 1] ?? 0;
      const step = Math.max(1, Math.floor((last - first) / MOST_SAMPLES));
      for (let n = first; n < last; n += step) {
        const sample = samples[n] ?? 0;
        if (sample < low) low = sample;
        if (sample > high) high = sample;
      }
      found[2 * column] = low;
      found[2 * column + 1] = high;
      peak = Math.max(peak, high, -low);
    }
  }
  const outline = { extremes: found, peak };
  outlines.set(buffer, outline);
  return outline;
}

/** One thing that a lane draws: a hit or a bed, with its audio where it is there. */
export interface Shape {
  atS: number;
  untilS: number | null;
  buffer: AudioBuffer | null;
  /** By velocity, of what is no sound: a sound is rendered at its velocity. */
  gain: number;
  hit: number | null;
}

/** What a part plays in a round, in order of time. */
export function shapesOf(heard: Heard, part: TryOutPart, plan: RoundPlan): Shape[] {
  const source = plan.sources.find((one) => one.part === part.id);
  if (!source || source.missing !== "") return [];
  if (part.plays.kind === "bed") {
    const buffer = readyAudio(bedWish(heard, part, source));
    return [{ atS: 0, untilS: null, buffer, gain: 1, hit: null }];
  }
  return plan.events
    .filter((event) => event.part === part.id)
    .map((event) => shapeOf(heard, part, event, source));
}

function shapeOf(heard: Heard, part: TryOutPart, event: RoundEvent, source: PlayedSource): Shape {
  return {
    atS: event.at_s,
    untilS: event.until_s,
    buffer: readyAudio(hitWish(heard, part, event, source)),
    gain: part.plays.kind === "sound" ? 1 : velocityGain(event.velocity),
    hit: event.hit,
  };
}
