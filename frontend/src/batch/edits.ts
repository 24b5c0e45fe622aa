import type { Axis, BatchPlan, PlannedSound, Spread } from "../api";

/** The plan with one of its sounds changed. */
export function withSound(
  plan: BatchPlan,
  id: string,
  change: (sound: PlannedSound) => PlannedSound,
): BatchPlan {
  return { ...plan, sounds: plan.sounds.map((one) => (one.id === id ? change(one) : one)) };
}

export const sameAxis = (one: Axis, other: Axis) =>
  one.kind === other.kind && (one.macro ?? "") === (other.macro ?? "");

/** An axis in the place of the one of its kind, or behind the others; without values it goes. */
export function withAxis(sound: PlannedSound, axis: Axis): PlannedSound {
  const gone = axis.values.length === 0 && axis.first === null;
  const others = sound.axes.filter((one) => !sameAxis(one, axis));
  if (gone) return { ...sound, axes: others };
  const known = sound.axes.some((one) => sameAxis(one, axis));
  return {
    ...sound,
    axes: known
      ? sound.axes.map((one) => (sameAxis(one, axis) ? axis : one))
      : [...sound.axes, axis],
  };
}

/** A spread in the place of the one of its number, or behind the others. */
export function withSpread(sound: PlannedSound, spread: Spread): PlannedSound {
  const known = sound.spreads.some(({ target }) => target === spread.target);
  return {
    ...sound,
    spreads: known
      ? sound.spreads.map((one) => (one.target === spread.target ? spread : one))
      : [...sound.spreads, spread],
  };
}

export const withoutSpread = (sound: PlannedSound, target: string): PlannedSound => ({
  ...sound,
  spreads: sound.spreads.filter((one) => one.target !== target),
});
