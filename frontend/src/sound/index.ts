export { RevisionSelect } from "./RevisionSelect";
export {
  addInHand,
  copyProcessor,
  hasCopied,
  pasteProcessor,
  besideProcessor,
  placeInHand,
  removeProcessor,
  replaceWith,
  toggleEffects,
  withLoaded,
  withNewInHand,
  withReplaced,
  withoutEffects,
} from "./chainEdits";
export {
  allBranches,
  branchesOf,
  chainPlaces,
  forkDepth,
  withBranch,
  type Branch,
  type ForkProcessor,
  findProcessor,
  placeOf,
  withChain,
  withProcessor,
  withProcessorAt,
  withoutProcessor,
  type ChainPlace,
  type ChainRef,
} from "./chains";
export {
  curveOutline,
  pointsOnRuler,
  withNewPoint,
  timeRefusal,
  withPoint,
  withPointAt,
  withoutPoint,
  type Part,
  type PointAddress,
} from "./curveEdits";
export {
  COMMON_PITCH,
  curveAt,
  curveKey,
  curveWords,
  CURVE_KINDS,
  drawnBy,
  type CurveName,
  type CurveRef,
  type LayerCurve,
} from "./curveRef";
export { describeLayer } from "./describeLayer";
export { differences } from "./differences";
export { editCurve } from "./editCurve";
export {
  MOST_LAYERS,
  completed,
  curveOf,
  freshId,
  isPitched,
  newLayer,
  newBranch,
  newProcessor,
  newSource,
  point,
  withEdits,
  withLayer,
  withLayerMoved,
} from "./edits";
export { curveOfFive, fallTime, fiveOfCurve, type FiveNumbers } from "./fiveNumbers";
export { listenAt, stepName } from "./listening";
export { changeOf, withMode } from "./modeEdits";
export {
  MOVER_KINDS,
  MOVER_NAMES,
  firstAmount,
  idleMovers,
  curveMovers,
  movedUnit,
  moverName,
  newLink,
  newMover,
  sameLink,
  valueAt,
  withLink,
  withMover,
  withoutLink,
  withoutMover,
} from "./moverEdits";
export { narrowed, offeredSources, samplePatch, swapped, type Offered } from "./offered";
export {
  PARTIAL_COUNT,
  STARTING_SETS,
  allAmplitudes,
  heardAmplitude,
  withStroke,
} from "./partialSets";
export {
  PIN_COUNT,
  dismiss,
  matchingGainDb,
  pinsOf,
  setPin,
  showDismissed,
  usePins,
  type Pin,
} from "./pinStore";
export { PROCESSOR_GROUPS, nameInChain, processorName, processorWords } from "./processorNames";
export { heldLink, learned, linkRange, withLinkRange, withValueAt, type Range } from "./ranges";
export {
  destinationName,
  destinationsOf,
  newBus,
  ownerOf,
  sendDestinations,
  sendsOf,
  withBus,
  withRoute,
  withSend,
  withoutBus,
  withoutSend,
} from "./routes";
export { beatsOf, timePatch, withBeatTimes } from "./beats";
export { beatsOfFive, withFiveNumber, type FiveTime } from "./fiveBeats";
export { SOURCE_NAMES } from "../api/generated/kinds";
export {
  edit,
  openDocument,
  redo,
  select,
  setView,
  showTab,
  takeInHand,
  showMover,
  takePoints,
  toggleListen,
  undo,
  useBench,
  type InspectorTab,
  type SaveState,
  type Selection,
} from "./store";
export { needsLoudness, playbackGainDb, switchProcessor, toggleMatching } from "./switching";
export { isFollowed, mayMove, targetAt, targetsOf, type Target } from "./targets";
export { fetchChanges } from "./changesOfOthers";
export { merged, type Conflict } from "./merge";
export { forgetEdits, keptEdits, saveNow, useAutosave } from "./useAutosave";
export { sharedTargets, type SharedTarget } from "./sharedTargets";
export { withDuplicate } from "./duplicate";
export { hasTimesInSeconds, withStretchedTimes } from "./tempoStretch";
export { addLayer, addMover, LAYER_KINDS } from "./adding";
export { useNewSound } from "./useNewSound";
export { useStarters } from "./useStarters";
