import type { Curve } from "../../api";
import type { TimeScale } from "../../ui";
import { gridSeconds, useRuler } from "../parts";
import {
  curveKey,
  editCurve,
  select,
  takeInHand,
  useBench,
  type CurveRef,
  type PointAddress,
} from "../../sound";
import type { CurveAxis } from "./curveAxis";
import { sameAddress } from "./curveTools";
import { followPointer } from "./followPointer";

/** A curve under the pointer: where it is drawn, which of its points are selected, what it shows. */
export interface EditedCurve {
  curveRef: CurveRef;
  curve: Curve;
  delayS: number;
  holdS: number;
  scale: TimeScale;
  axis: CurveAxis;
  inHand: PointAddress[];
  svg: React.RefObject<SVGSVGElement | null>;
  setHeldRange: (range: [number, number] | null) => void;
  setReadout: (readout: { address: PointAddress; bend: boolean } | null) => void;
}

interface Gesture {
  gesture: string;
  moving: boolean;
}

/** Change the curve; with a gesture, all its steps are undone as one. */
export function change(
  { curveRef }: EditedCurve,
  what: string,
  to: (now: Curve) => Curve,
  how?: Gesture,
): void {
  const { document } = useBench.getState();
  if (document) editCurve(document, curveRef, what, to, how);
}

/** End a gesture: what was changed last is kept and rendered. */
export function endGesture(edited: EditedCurve, what: string, gesture: string): void {
  change(edited, what, (now) => now, { gesture, moving: false });
}

export const keyOf = ({ curveRef }: EditedCurve) => curveKey(curveRef);

/** Select what the curve belongs to, with the curve in the inspector. */
export function selectOwner({ curveRef }: EditedCurve): void {
  if (curveRef.name === "mover") select({ kind: "mover", id: curveRef.moverId });
  else if (curveRef.layerId === null) select({ kind: "pitch" });
  else takeInHand(curveRef.layerId, curveRef.name);
}

/** Distance of the ruler's grid lines in seconds; null where it is off. */
export const gridStep = () =>
  gridSeconds(useRuler.getState().grid, useBench.getState().document?.tempo_bpm ?? 120);

/** When a part of the curve begins on the ruler, in seconds. */
export const partStart = ({ delayS, holdS }: EditedCurve, { part }: PointAddress) =>
  delayS + (part === "release" ? holdS : 0);

export const isTaken = ({ inHand }: EditedCurve, address: PointAddress) =>
  inHand.some((one) => sameAddress(one, address));

/** The selected points with this one added, or without it if it was among them. */
export function toggled(edited: EditedCurve, address: PointAddress): PointAddress[] {
  const others = edited.inHand.filter((one) => !sameAddress(one, address));
  return isTaken(edited, address) ? others : [...edited.inHand, address];
}

/** The points that a gesture at this one moves: all selected ones if it is among them. */
export const groupAt = (edited: EditedCurve, address: PointAddress) =>
  isTaken(edited, address) ? edited.inHand : [address];

export const movedWords = (group: PointAddress[], { index }: PointAddress) =>
  group.length > 1 ? `${group.length} points moved` : `point ${index + 1} moved`;

/** Follow the pointer; the axis keeps its range meanwhile. */
export function hold(
  { axis, setHeldRange }: EditedCurve,
  event: React.PointerEvent,
  on: Parameters<typeof followPointer>[1],
): void {
  setHeldRange([axis.low, axis.high]);
  followPointer(event, {
    move: on.move,
    end: (moved) => {
      setHeldRange(null);
      on.end(moved);
    },
  });
}
