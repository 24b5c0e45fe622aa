import { create } from "zustand";
import { type Failed, sendAll } from "./sending";
import { received } from "./upload";

/** Files being sent into a library. They go on whatever else is done in this window. */
export interface Batch {
  libraryId: number;
  libraryName: string;
  of: number;
  /** Samples that were made. */
  made: number[];
  /** Samples whose audio was in the library before. */
  there: number[];
  failed: Failed[];
  /** Files that were not sent when it was stopped. */
  left: File[];
  /** Whether the server does not answer now. */
  away: boolean;
  running: boolean;
  startedAt: number;
  /** How long it has taken so far. */
  seconds: number;
}

interface State {
  batch: Batch | null;
  /** Whether it is looked at. */
  shown: boolean;
}

export const useBatch = create<State>(() => ({ batch: null, shown: false }));
export const showBatch = (shown: boolean) => useBatch.setState({ shown });
export const forgetBatch = () => useBatch.setState({ batch: null, shown: false });

const PAUSE_MS = 2000;
let stopping = new AbortController();

function change(patch: (batch: Batch) => Partial<Batch>): void {
  useBatch.setState(({ batch }) => {
    if (!batch) return {};
    const seconds = (Date.now() - batch.startedAt) / 1000;
    return { batch: { ...batch, seconds, ...patch(batch) } };
  });
}

/** Begin no more; what is on its way arrives. */
export const stopBatch = () => stopping.abort();

// A window that is closed takes the files with it that were not sent.
function ask(event: BeforeUnloadEvent): void {
  event.preventDefault();
}

async function isGone(file: File): Promise<boolean> {
  const reader = file.stream().getReader();
  try {
    await reader.read();
    await reader.cancel();
    return false;
  } catch {
    return true;
  }
}

/** Send files into a library; ``onSome`` is called now and then when there are more. */
export async function startBatch(
  files: readonly File[],
  library: { id: number; name: string },
  onSome: () => void,
): Promise<void> {
  stopping = new AbortController();
  useBatch.setState({
    shown: true,
    batch: {
      libraryId: library.id,
      libraryName: library.name,
      of: files.length,
      made: [],
      there: [],
      failed: [],
      left: [],
      away: false,
      running: true,
      startedAt: Date.now(),
      seconds: 0,
    },
  });
  addEventListener("beforeunload", ask);
  let reported = 0;
  const tell = () => {
    const made = useBatch.getState().batch?.made.length ?? 0;
    if (made > reported) onSome();
    reported = made;
  };
  const timer = setInterval(tell, PAUSE_MS);
  const send = async (file: File) => {
    const url = `/api/libraries/${library.id}/samples?once=true`;
    const { answer, status } = await received<{ id: number }>(url, file).catch(
      async (error: unknown) => {
        // A file that was moved meanwhile looks like a server that is away.
        if (await isGone(file))
          throw new Error("It can no longer be read; was it moved or changed?");
        throw error;
      },
    );
    return { id: answer.id, isNew: status === 201 };
  };
  const left = await sendAll(
    files,
    send,
    {
      sent: ({ id, isNew }) =>
        change(({ made, there }) => (isNew ? { made: [...made, id] } : { there: [...there, id] })),
      failed: (one) => change(({ failed }) => ({ failed: [...failed, one] })),
      away: (away) => change(() => ({ away })),
    },
    {
      signal: stopping.signal,
      pause: () => new Promise((done) => setTimeout(done, PAUSE_MS)),
    },
  );
  clearInterval(timer);
  removeEventListener("beforeunload", ask);
  change(() => ({ running: false, away: false, left }));
  tell();
}
