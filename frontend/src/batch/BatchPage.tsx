import { useParams } from "react-router";
import { Batch } from "./Batch";
import { BatchList } from "./BatchList";
import { useBatch } from "./store";
import { useOpenBatch } from "./useBatches";
import { useRounds } from "./useRounds";

interface Props {
  /** Shows samples in their library. */
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** The batch that the address names, or the list of all. */
export function BatchPage({ onShow }: Props) {
  const { batchId } = useParams();
  if (batchId === undefined) return <BatchList />;
  return <OpenBatch key={batchId} id={Number(batchId)} onShow={onShow} />;
}

function OpenBatch({ id, onShow }: Props & { id: number }) {
  const problem = useOpenBatch(id);
  // Asked for beside the batch, for its newest round is shown first.
  useRounds(id);
  const ready = useBatch((state) => state.opened?.id === id);
  if (problem !== null)
    return (
      <main className="grid flex-1 place-items-center text-ink-2">
        <p role="alert">{problem}</p>
      </main>
    );
  return ready ? <Batch id={id} onShow={onShow} /> : <main className="flex-1" aria-busy />;
}
