export { HeldHit, type RenderHeld } from "./heldHit";
export {
  audioContext,
  playable,
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
export { renderHit, renderPhrase, audioFrom } from "./renders";
