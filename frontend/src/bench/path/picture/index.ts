export {
  BAND_NAMES,
  equaliserDb,
  freeBand,
  hasGain,
  type Band,
  type BandName,
  type Equaliser,
} from "./equaliserResponse";
export { gist } from "./gist";
export { ProcessorPicture } from "./ProcessorPicture";
export type { Drive } from "./transferCurves";
