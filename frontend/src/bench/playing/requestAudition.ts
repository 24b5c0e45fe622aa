import {
  acceptedAudio,
  ApiError,
  type AuditionAnswer,
  type DetailsAnswer,
  noteTransfer,
  PartReader,
  refusal,
  renderRequest,
  type Sound,
} from "../../api";
import { keepAudio, playable } from "../../audio";
import { withoutEffects } from "../../sound";

interface How {
  quality?: "draft" | "final";
  /** Id of the step that is heard instead of the output. */
  at: string | null;
  /** All processors left out. */
  dry: boolean;
  /** The sound that is open, where what is rendered is its present state. */
  soundId?: number | null;
  /** Requests of one stream replace each other on the server. */
  stream?: string;
  /** With the closer look, which comes last; with a tap and a long hold where it says so. */
  details?: { holds: boolean };
  signal?: AbortSignal;
}

/** Called as the parts of an audition come. */
interface Told {
  onAudio?: (audio: AudioBuffer, digest: string) => void;
  onPictures?: (answer: AuditionAnswer) => void;
  onDetails?: (details: DetailsAnswer) => void;
}

const asked = (document: Sound, how: How) => ({
  ...renderRequest(how.dry ? withoutEffects(document) : document, how.quality ?? "final"),
  listen_at: how.at,
  sound_id: how.soundId ?? null,
  stream: how.stream ?? "",
  details: how.details !== undefined,
  holds: how.details?.holds ?? false,
});

/** Renders a sound's own hit: its audio first, then what is measured, checked and drawn of it. */
export async function requestAudition(
  document: Sound,
  how: How,
  { onAudio, onPictures, onDetails }: Told = {},
): Promise<{ answer: AuditionAnswer; audio: AudioBuffer }> {
  let audio: AudioBuffer | null = null;
  let answer: Partial<AuditionAnswer> = {};
  for await (const { name, digest, data } of partsOf(asked(document, how), how.signal)) {
    if (name === "audio") {
      audio = await playable(data.buffer);
      keepAudio(digest, audio);
      onAudio?.(audio, digest);
      continue;
    }
    const value: unknown = JSON.parse(new TextDecoder().decode(data));
    if (name === "problem") throw refusal(409, value);
    if (name === "details") onDetails?.(value as DetailsAnswer);
    else answer = { ...answer, ...(value as Partial<AuditionAnswer>) };
    if (name === "pictures") onPictures?.(answer as AuditionAnswer);
  }
  if (!audio || !answer.spectrogram) throw new ApiError(0, null, "The server stopped answering");
  return { answer: answer as AuditionAnswer, audio };
}

async function* partsOf(body: object, signal?: AbortSignal) {
  const response = await answered(body, signal);
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => null));
  const reader = new PartReader();
  const stream = response.body?.getReader();
  let [beganAt, bytes, audioCame] = [0, 0, false];
  while (stream) {
    const { done, value } = await stream.read().catch((error: unknown) => {
      throw unreachable(error);
    });
    if (done) return;
    beganAt ||= performance.now();
    bytes += value.length;
    for (const part of reader.feed(value)) {
      // The audio comes first and in one piece; what follows is still being made meanwhile.
      if (!audioCame) noteTransfer(bytes, (performance.now() - beganAt) / 1000);
      audioCame = true;
      yield part;
    }
  }
}

async function answered(body: object, signal?: AbortSignal): Promise<Response> {
  try {
    return await fetch("/api/auditions", {
      method: "POST",
      headers: {
        "Content-Type": "application/json",
        Accept: `multipart/mixed, ${acceptedAudio()}`,
      },
      body: JSON.stringify(body),
      signal: signal ?? null,
    });
  } catch (error) {
    throw unreachable(error);
  }
}

/** What was cancelled on purpose stays that; all else is a server that does not answer. */
const unreachable = (error: unknown) =>
  error instanceof DOMException && error.name === "AbortError"
    ? error
    : new ApiError(0, null, "The server does not answer");
