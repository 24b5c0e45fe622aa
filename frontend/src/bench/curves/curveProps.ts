import type { Curve, Declarations, Sound } from "../../api";
import type { CurveRef } from "../../sound";

/** A curve that is shown as numbers. */
export interface CurveProps {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
  declarations: Declarations;
}
