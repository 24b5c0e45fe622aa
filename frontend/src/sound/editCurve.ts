import type { Curve, Sound } from "../api";
import { edit } from "./store";
import { type CurveRef, curveWords, withCurve } from "./curveRef";

/** One named, undoable change of a curve. */
export function editCurve(
  sound: Sound,
  ref: CurveRef,
  what: string,
  change: (curve: Curve) => Curve,
  how?: { gesture: string; moving: boolean },
): void {
  edit(`${curveWords(sound, ref)}: ${what}`, (now) => withCurve(now, ref, change), how);
}
