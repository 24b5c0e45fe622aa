import type { Curve, Processor, Sound } from "../api";
import { beatTimeOf } from "./beats";
import { withEachChain } from "./chains";

/** Times in seconds made longer or shorter with the tempo, so that they keep their place in the bar. */

const LATEST_S = 60;
/** Of processors, what is felt in time: not the few milliseconds of a chorus or a compressor. */
const TIMES: Partial<Record<Processor["kind"], string[]>> = {
  delay: ["time_s"],
  pitch_delay: ["time_s"],
  fade: ["in_s", "out_s", "end_s"],
};

function stretched<Part extends object>(part: Part, names: string[], factor: number): Part {
  const patch: Record<string, unknown> = {};
  const longer = (seconds: number) =>
    Math.min(LATEST_S, Number((seconds * factor).toPrecision(12)));
  for (const name of names) {
    const now = (part as Record<string, unknown>)[name];
    const kept = beatTimeOf(part, name);
    if (kept?.seconds) {
      const { and_seconds } = part as { and_seconds?: Record<string, number> };
      const seconds = longer(kept.seconds);
      patch.and_seconds = { ...and_seconds, [name]: seconds };
      patch[name] = Number(now) + seconds - kept.seconds;
    } else if (typeof now === "number" && now !== 0 && !kept) patch[name] = longer(now);
  }
  return Object.keys(patch).length > 0 ? { ...part, ...patch } : part;
}

function stretchedCurve(curve: Curve, factor: number): Curve {
  const point = (one: Curve["points"][number]) => stretched(one, ["time_s"], factor);
  return { ...curve, points: curve.points.map(point), release: curve.release.map(point) };
}

/** The sound with all that lies in time in seconds stretched; what is kept in beats stays. */
export function withStretchedTimes(sound: Sound, factor: number): Sound {
  const layers = sound.layers.map((layer) => ({
    ...stretched(layer, ["delay_s"], factor),
    level: stretchedCurve(layer.level, factor),
    pitch: stretchedCurve(layer.pitch, factor),
  }));
  const movers = sound.movers.map((mover) => {
    if (mover.kind === "curve") return { ...mover, curve: stretchedCurve(mover.curve, factor) };
    return mover.kind === "lfo" ? stretched(mover, ["delay_s", "fade_s"], factor) : mover;
  });
  const hit = {
    ...stretched(sound.hit, ["hold_s", "loop_s"], factor),
    further: sound.hit.further.map((note) => stretched(note, ["at_s"], factor)),
  };
  const whole: Sound = {
    ...sound,
    layers,
    movers,
    hit,
    pitch: stretchedCurve(sound.pitch, factor),
    pattern: stretched(sound.pattern, ["every_s"], factor),
    main: stretched(sound.main, ["end_by_s"], factor),
  };
  return withEachChain(whole, (chain) =>
    chain.map((part) => stretched(part, TIMES[part.kind] ?? [], factor)),
  );
}

/** Whether a sound has times in seconds that a tempo leaves where they are. */
export const hasTimesInSeconds = (sound: Sound): boolean =>
  JSON.stringify(withStretchedTimes(sound, 2)) !== JSON.stringify(sound);
