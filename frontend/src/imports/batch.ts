import { create } from "zustand";
import { folderOf } from "./folders";
import { type ImportRules, NO_RULES, ruleParameters } from "./rules";
import { type Failed, type Sent, sendAll } from "./sending";
import { received } from "./upload";

/** Files being sent into a library. They go on whatever else is done in this window. */
export interface Batch {
  libraryId: number;
  libraryName: string;
  of: number;
  /** Samples that were made. */
  made: number[];
  /** Files whose audio was in the library before, each with the sample that has it. */
  there: Sent[];
  rules: ImportRules;
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
  rules: ImportRules = NO_RULES,
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
      rules,
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
    const { made = [], there = [] } = useBatch.getState().batch ?? {};
    const changed = made.length + (rules.merge ? there.length : 0);
    if (changed > reported) onSome();
    reported = changed;
  };
  const timer = setInterval(tell, PAUSE_MS);
  const send = async (file: File) => {
    const parameters = ruleParameters(rules, folderOf(file));
    const url = `/api/libraries/${library.id}/samples?${parameters}`;
    const { answer, status } = await received<{ id: number; name: string }>(url, file).catch(
      async (error: unknown) => {
        // A file that was moved meanwhile looks like a server that is away.
        if (await isGone(file))
          throw new Error("It can no longer be read; was it moved or changed?");
        throw error;
      },
    );
    return { file, id: answer.id, name: answer.name, isNew: status === 201 };
  };
  const left = await sendAll(
    files,
    send,
    {
      sent: (one) =>
        change(({ made, there }) =>
          one.isNew ? { made: [...made, one.id] } : { there: [...there, one] },
        ),
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
