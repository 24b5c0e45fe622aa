export { HeldHit, type RenderHeld } from "./heldHit";
export { loadAudio, play, playLoop, playPosition, playUrl, stopPlaying, usePlayer } from "./player";
export { renderHit, renderPhrase } from "./renders";
