import { api, renderRequest, resultOf, type AuditionAnswer, type Sound } from "../../api";
import { loadAudio } from "../../audio";
import { withoutEffects } from "../../sound";

export const auditionUrl = (digest: string) => `/api/auditions/${digest}.wav`;

interface How {
  quality?: "draft" | "final";
  /** Id of the step that is heard instead of the output. */
  at: string | null;
  /** All processors left out. */
  dry: boolean;
  /** The sound that is open, where what is rendered is its present state. */
  soundId?: number | null;
}

/** Renders a sound's own hit, measured and checked, with its audio ready to play. */
export async function requestAudition(
  document: Sound,
  { quality = "final", at, dry, soundId = null }: How,
): Promise<{ answer: AuditionAnswer; audio: AudioBuffer }> {
  const heard = dry ? withoutEffects(document) : document;
  const body = { ...renderRequest(heard, quality), listen_at: at, sound_id: soundId };
  const answer = await resultOf(api.POST("/api/auditions", { body }));
  return { answer, audio: await loadAudio(auditionUrl(answer.digest)) };
}
