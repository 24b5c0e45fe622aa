export { BusFields } from "./BusFields";
export { Path } from "./Path";
export { ProcessorMenu } from "./ProcessorMenu";
export { ProcessorPicture } from "./ProcessorPicture";
export { SendList } from "./SendList";
export { RouteMenu } from "./RouteMenu";
export {
  BAND_NAMES,
  equaliserDb,
  freeBand,
  hasGain,
  type Band,
  type BandName,
  type Equaliser,
} from "./equaliserResponse";
export type { Drive } from "./transferCurves";
export { endTrial, tryOut, useTrial } from "./trial";
export { useChains, type SavedChain } from "./useChains";
