export { HeldHit, type RenderHeld } from "./heldHit";
export {
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
export { renderHit, renderPhrase } from "./renders";
