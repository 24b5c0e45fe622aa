import type { Sound } from "../../api";
import { HeldHit, keptAudio, play, renderHit } from "../../audio";
import { withoutEffects, playbackGainDb, useBench } from "../../sound";
import { requestAudition } from "./requestAudition";

/** Render a document and play it, level-matched to the pinned states if that is asked for. */
export async function playDocument(document: Sound): Promise<void> {
  const { listenAt, effectsOff } = useBench.getState();
  const how = { at: listenAt, dry: effectsOff };
  const { answer, audio } = await requestAudition(document, how);
  play(audio, answer.digest, playbackGainDb(document, answer.measures.loudness_lufs));
}

/** Play what the Bench shows now; where nothing is shown yet, as soon as it is rendered. */
export async function playBench() {
  const { audition, document } = useBench.getState();
  if (!document) return null;
  const audio = audition ? keptAudio(audition.digest) : null;
  // Where it is not kept any more, it is rendered below.
  if (audition && audio) {
    const gainDb = playbackGainDb(document, audition.measures.loudness_lufs);
    return play(audio, audition.digest, gainDb);
  }
  await playDocument(document);
  return null;
}

let held: HeldHit | null = null;

/** Play now, and go on holding while the key is down: a tap plays the hold as it is set. */
export async function playHeld(): Promise<void> {
  held?.stop();
  held = null;
  const voice = await playBench();
  const { document } = useBench.getState();
  if (!voice || !document) return;
  const heard = useBench.getState().effectsOff ? withoutEffects(document) : document;
  const render = (holdS: number) => renderHit(heard, { ...document.hit, hold_s: holdS });
  held = HeldHit.taking(voice, document.hit.hold_s, render);
}

/** The key was let go. */
export function letGo(): void {
  void held?.release();
  held = null;
}
