export { DetailsDrawer } from "./DetailsDrawer";
export { EmptyList, Hint } from "./EmptyList";
export { HeardRow } from "./HeardRow";
export { SavedField } from "./SavedField";
export { ShareDialog } from "./ShareDialog";
export { TagField } from "./TagField";
export { Thumbnail } from "./Thumbnail";
export { UndoOffer } from "./UndoOffer";
export {
  RANGE_WORDS,
  STATUS_MARKS,
  hzText,
  lengthText,
  levelText,
  noteText,
  sampleUrl,
  statusText,
  statusVerb,
} from "./figures";
export { playSample } from "./playSample";
export {
  ask,
  askAnew,
  askLike,
  askOtherwise,
  choose,
  isNarrowed,
  mark,
  offerUndo,
  toggleMark,
  toggled,
  useSelection,
} from "./queryStore";
export { keepPlace, keptPlace } from "./keptPlace";
export { useFound } from "./useFound";
export { lastVisit, useSearchAddress } from "./useSearchAddress";
export { useSettledQuery } from "./useSettledQuery";
export { useShowSamples } from "./useShowSamples";
export { useOthers } from "./useOthers";
