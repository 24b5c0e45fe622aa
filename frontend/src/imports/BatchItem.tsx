import { Check, Download } from "lucide-react";
import { showBatch, useBatch } from "./batch";
import { doneOf } from "./batchWords";

/** At the left edge: how far files are being sent, wherever one works meanwhile. */
export function BatchItem({ className }: { className: string }) {
  const { batch, shown } = useBatch();
  if (!batch || shown) return null;
  const figure = `${doneOf(batch)}/${batch.of}`;
  const Icon = batch.running ? Download : Check;
  const words = batch.away
    ? "the server does not answer"
    : batch.running
      ? "being sent"
      : batch.failed.length > 0
        ? `${batch.failed.length} failed`
        : "there";
  return (
    <button
      type="button"
      onClick={() => showBatch(true)}
      aria-label={`Files: ${figure}, ${words}`}
      title={`Files into ${batch.libraryName}: ${words}`}
      className={className}
    >
      <Icon
        size={16}
        strokeWidth={1.6}
        aria-hidden
        className={batch.away || batch.failed.length > 0 ? "text-bad" : "text-action"}
      />
      <span className="figure">{figure}</span>
    </button>
  );
}
