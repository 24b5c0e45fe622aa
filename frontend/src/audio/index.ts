export { HeldHit, type RenderHeld } from "./heldHit";
export { loadAudio, play, playPosition, playUrl, usePlayer } from "./player";
export { renderHit, renderPhrase } from "./renders";
