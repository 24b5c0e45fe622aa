import { ApiError } from "../api";

/** What became of one file: the sample that holds its audio, and whether it was already there. */
export interface Sent {
  file: File;
  id: number;
  /** What the sample is called. */
  name: string;
  isNew: boolean;
}

export interface Failed {
  file: File;
  reason: string;
}

/** Told of each file as it ends, and while the server does not answer. */
export interface Listener {
  sent: (made: Sent) => void;
  failed: (failed: Failed) => void;
  away: (away: boolean) => void;
}

interface Options {
  /** Ends it; what is on its way is let arrive. */
  signal: AbortSignal;
  /** A pause before a server that does not answer is asked again. */
  pause: () => Promise<void>;
}

// The server reads two files at a time.
const AT_ONCE = 2;

/** Whether trying again may help: the server, or its database, is away. */
const isAway = (error: unknown) =>
  error instanceof ApiError && [0, 502, 503, 504].includes(error.status);

/**
 * Send files one by one; one that is refused holds up no other. Answers those that were not sent,
 * which are none unless it was stopped.
 */
export async function sendAll(
  files: readonly File[],
  send: (file: File) => Promise<Sent>,
  listener: Listener,
  { signal, pause }: Options,
): Promise<File[]> {
  const left = [...files];
  const unsent: File[] = [];
  const one = async (file: File): Promise<void> => {
    try {
      const made = await send(file);
      listener.away(false);
      listener.sent(made);
    } catch (error) {
      if (!isAway(error)) {
        listener.away(false);
        const reason = error instanceof Error ? error.message : "it could not be imported";
        return listener.failed({ file, reason });
      }
      listener.away(true);
      await pause();
      if (signal.aborted) unsent.push(file);
      else await one(file);
    }
  };
  const lane = async () => {
    for (let file = left.shift(); file; file = left.shift()) {
      if (signal.aborted) unsent.push(file);
      else await one(file);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  return unsent;
}
