import { ApiError } from "./client";

const RETRY_MS = 2000;

/** Of this page: what is asked for with it replaces only what the page asked for before. */
const PAGE = crypto.randomUUID?.() ?? String(Math.random());

/** A stream of requests of this page: on the server each takes the place of the one before. */
export const ownStream = (name: string) => `${name} ${PAGE}`;

/** Whether it may help to ask again: nobody answered, or the server cannot at the moment. */
export function mayPass(error: unknown): boolean {
  if (!(error instanceof ApiError)) return false;
  return error.status === 0 || error.status === 429 || error.status >= 500;
}

/** Whether another request of the same stream came to the server later. */
export const wasReplaced = (error: unknown) => error instanceof ApiError && error.status === 409;

function pause(signal: AbortSignal): Promise<void> {
  return new Promise((go) => {
    const timer = setTimeout(go, RETRY_MS);
    signal.addEventListener("abort", () => {
      clearTimeout(timer);
      go();
    });
  });
}

/**
 * Ask until there is an answer, as long as it is wanted. Requests can pass each other on a slow line:
 * one that an earlier one replaced is asked for again too. ``onTrouble`` gets what went wrong
 * meanwhile; what asking again cannot mend is thrown.
 */
export async function untilAnswered<Answer>(
  ask: (signal: AbortSignal) => Promise<Answer>,
  signal: AbortSignal,
  onTrouble: (error: unknown) => void,
): Promise<Answer | null> {
  while (!signal.aborted) {
    try {
      return await ask(signal);
    } catch (error) {
      if (signal.aborted) return null;
      if (!mayPass(error) && !wasReplaced(error)) throw error;
      if (!wasReplaced(error)) onTrouble(error);
    }
    await pause(signal);
  }
  return null;
}
