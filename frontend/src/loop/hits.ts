import type { PlayedSource, RoundEvent, Sound, TryOut, TryOutPart } from "../api";
import { ApiError } from "../api";
import { audioFrom } from "../audio";

/** What is heard: a try-out, and the sounds of it that are being edited, by their ids. */
export interface Heard {
  document: TryOut;
  drafts: ReadonlyMap<number, Sound>;
}

/** Audio that is wanted, and how it is asked for. */
export interface Wish {
  key: string;
  url: string;
  body: object;
}

const MOST_SECONDS = 600;
const AT_ONCE = 2;
const BUSY_PAUSE_MS = 300;
const REFUSED_MS = 3000;
const MOST_REFUSED = 200;

const kept = new Map<string, AudioBuffer>();
const refused = new Map<string, { error: unknown; at: number }>();
const underWay = new Map<string, Promise<AudioBuffer>>();
const waiting: (() => void)[] = [];
let busy = 0;

const draftNumbers = new WeakMap<Sound, number>();
let drafted = 0;
function numberOf(draft: Sound): number {
  const known = draftNumbers.get(draft) ?? ++drafted;
  draftNumbers.set(draft, known);
  return known;
}

/** The audio of one hit of a part: of its sound at the tempo, or of a sample as it is. */
export function hitWish(
  heard: Heard,
  part: TryOutPart,
  event: RoundEvent,
  source: PlayedSource,
): Wish {
  const { plays } = part;
  const tempo_bpm = heard.document.tempo_bpm;
  if (plays.kind !== "sound") {
    const sample = event.sample ?? ("sample" in plays ? plays.sample : null);
    return {
      key: `${source.key} ${sample}`,
      url: "/api/tryouts/hits",
      body: { plays, sample, tempo_bpm },
    };
  }
  const draft = plays.revision === null ? heard.drafts.get(plays.sound) : undefined;
  const { notes, velocity, hold_s, macros } = event;
  const hit = { notes, velocity, hold_s, macros, tempo_bpm };
  const what = draft ? `being edited ${plays.sound} ${numberOf(draft)}` : source.key;
  return {
    key: `${what} ${JSON.stringify(hit)}`,
    url: "/api/tryouts/hits",
    body: { plays, ...hit, ...(draft ? { draft } : {}) },
  };
}

/** The audio of a bed for one round. */
export function bedWish(heard: Heard, part: TryOutPart, source: PlayedSource): Wish {
  const { tempo_bpm, length_s } = heard.document;
  const body = { plays: part.plays, tempo_bpm, length_s };
  return { key: `${source.key} ${JSON.stringify(body)}`, url: "/api/tryouts/beds", body };
}

/** What is ready now; null where it has to be fetched first. */
export function readyAudio(wish: Wish): AudioBuffer | null {
  const found = kept.get(wish.key);
  if (!found) return null;
  kept.delete(wish.key);
  kept.set(wish.key, found);
  return found;
}

/** Fetch audio once; a few at a time, as the server wants it. */
export function audioOf(wish: Wish): Promise<AudioBuffer> {
  const found = readyAudio(wish);
  if (found) return Promise.resolve(found);
  const before = underWay.get(wish.key);
  if (before) return before;
  // The player asks many times a second for what it has to place.
  const no = refused.get(wish.key);
  if (no && performance.now() - no.at < REFUSED_MS) return Promise.reject(no.error as Error);
  refused.delete(wish.key);
  const fetched = fetchInTurn(wish).finally(() => underWay.delete(wish.key));
  underWay.set(wish.key, fetched);
  return fetched;
}

async function fetchInTurn(wish: Wish): Promise<AudioBuffer> {
  while (busy >= AT_ONCE) await new Promise<void>((go) => waiting.push(go));
  busy += 1;
  try {
    const buffer = await patiently(wish);
    keep(wish.key, buffer);
    return buffer;
  } catch (error) {
    if (refused.size >= MOST_REFUSED) refused.clear();
    refused.set(wish.key, { error, at: performance.now() });
    throw error;
  } finally {
    busy -= 1;
    waiting.shift()?.();
  }
}

/** A server that is busy is asked again. */
async function patiently(wish: Wish): Promise<AudioBuffer> {
  for (let tries = 0; ; tries++) {
    try {
      return await audioFrom(wish.url, wish.body);
    } catch (error) {
      const passing = error instanceof ApiError && (error.status === 503 || error.status === 429);
      if (!passing || tries > 20) throw error;
      await new Promise((go) => window.setTimeout(go, BUSY_PAUSE_MS * (1 + tries)));
    }
  }
}

function keep(key: string, buffer: AudioBuffer): void {
  kept.set(key, buffer);
  let seconds = 0;
  for (const one of kept.values()) seconds += one.duration;
  for (const [oldest, one] of kept) {
    if (seconds <= MOST_SECONDS || oldest === key) break;
    kept.delete(oldest);
    seconds -= one.duration;
  }
}
