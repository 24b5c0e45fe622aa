export { BandsPicture } from "./BandsPicture";
export { Checks } from "./Checks";
export { HeldValues } from "./HeldValues";
export { HistoryDialog } from "./HistoryDialog";
export { HoldsSection } from "./HoldsSection";
export { Meters } from "./Meters";
export { PinnedStates, goToPin } from "./PinnedStates";
