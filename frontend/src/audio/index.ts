export { HeldHit, type RenderHeld } from "./heldHit";
export {
  audioContext,
  bufferOf,
  keepAudio,
  keptAudio,
  loadAudio,
  play,
  playLoop,
  playPosition,
  playUrl,
  stopPlaying,
  usePlayer,
} from "./player";
export { renderHit, renderPhrase, wavFrom } from "./renders";
