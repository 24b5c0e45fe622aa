export { BandsPicture } from "./BandsPicture";
export { Checks } from "./Checks";
export { ChecksLine } from "./ChecksLine";
export { closeChecks, toggleChecks, useChecksOpen } from "./checksStore";
export { HeldValues } from "./HeldValues";
export { HistoryDialog } from "./HistoryDialog";
export { HoldsSection } from "./HoldsSection";
export { Meters } from "./Meters";
export { PinnedStates, goToPin } from "./PinnedStates";
