export { ActionMenu, type Action } from "./ActionMenu";
export { Button } from "./Button";
export { Companions } from "./Companions";
export { Choice } from "./Choice";
export { DialogFrame } from "./DialogFrame";
export { Drawer } from "./Drawer";
export { FactRow } from "./FactRow";
export { FieldRow, ValueField } from "./FieldRow";
export { KeepForm } from "./KeepForm";
export { Leaves } from "./Leaves";
export { ProgressLine } from "./ProgressLine";
export type { MovedRange } from "./RangeHandles";
export { StepsField } from "./StepsField";
export { TextField } from "./TextField";
export { Waiting } from "./Waiting";
export { bytesOf, signedBytesOf } from "./base64";
export { cssColour, drawAlong, fillOutline, prepared, strokeSamples } from "./drawing";
export { centsText, hzToNote, noteName, noteToHz } from "./notes";
export { PIGMENTS, PIGMENT_ORDER } from "./pigments";
export { progressWords } from "./progressWords";
export { fromFraction, settled, toFraction } from "./scales";
export { spectrogramImage } from "./spectrogramImage";
export { startTheme, toggleTheme, useTheme } from "./theme";
export {
  boundedView,
  snapped,
  ticks,
  timeScale,
  zoomed,
  type TimeScale,
  type TimeShape,
  type TimeView,
} from "./timeScale";
export { BEATS_A_BAR, formatValue, parseValue, typedOr, type Unit } from "./units";
export { useMedia } from "./useMedia";
export { useSize } from "./useSize";
export { Redirect, useRedirect } from "./useRedirect";
export { useTitle } from "./useTitle";
