export { saveTryOut, useTryOutAutosave } from "./autosave";
export { partInHand, partsOfSound, useContext, withSoundInContext } from "./context";
export { audioOf, bedWish, hitWish, readyAudio, type Heard } from "./hits";
export { changeLoop, holdBack, loopPosition, startLoop, stopLoop, useLoop } from "./loop";
export { planOf } from "./plans";
export { LoopPlayer } from "./player";
export { wishesOf } from "./wishes";
export {
  choose,
  chosenPart,
  editTryOut,
  listenTo,
  openTryOut,
  redoTryOut,
  undoTryOut,
  useTryOut,
  type Chosen,
  type OpenedTryOut,
  type TryOutSave,
} from "./store";
export { cuts, gainOf, isHeard, velocityGain } from "./strips";
export { useMixFigures, type MixNow } from "./useMixFigures";
export { useOpener, useOpenTryOut, useTryOuts } from "./useTryOuts";
export { useRound, type RoundNow } from "./useRound";
