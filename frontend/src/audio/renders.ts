import { acceptedAudio, ApiError, noteTransfer, refusal, type Hit, type Sound } from "../api";
import { playable } from "./player";

/** Audio that a request is answered with, as a buffer to be played. */
export async function audioFrom(
  url: string,
  body: object,
  signal: AbortSignal | null = null,
): Promise<AudioBuffer> {
  let response: Response;
  try {
    response = await fetch(url, {
      method: "POST",
      headers: { "Content-Type": "application/json", Accept: acceptedAudio() },
      body: JSON.stringify(body),
      signal,
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new ApiError(0, null, "The server does not answer");
  }
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => null));
  const beganAt = performance.now();
  const file = await response.arrayBuffer();
  noteTransfer(file.byteLength, (performance.now() - beganAt) / 1000);
  return playable(file);
}

/** One hit of a sound, ready to be played; the sound's own where none is given. */
export const renderHit = (document: Sound, hit: Hit | null = null) =>
  audioFrom("/api/playing/hits", { document, hit, sample_rate: 48000 });

/** A test phrase played with a sound. */
export const renderPhrase = (document: Sound, phrase: string) =>
  audioFrom("/api/playing/phrases", { document, phrase, sample_rate: 48000 });
