export { CurveEditor } from "./CurveEditor";
export { CurveMarks } from "./CurveMarks";
export { CurveSection } from "./CurveSection";
export { KeepShapeDialog } from "./KeepShapeDialog";
export { OtherCurve } from "./OtherCurve";
export { releaseLikeDecay } from "./curveTools";
export { useShapes } from "./useShapes";
