import { Download } from "lucide-react";
import { useState } from "react";
import { Button, DialogFrame } from "../ui";
import { showBatch, useBatch } from "./batch";
import { BatchView } from "./BatchView";
import { letFilesBe, useBringing } from "./importStore";
import { Destinations } from "./Destinations";
import { useFileDrop } from "./useFileDrop";

interface Props {
  /** Shows samples of a library. */
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** Files dropped anywhere: shows that they are welcome, asks where they shall go, and says how far
 * they are. */
export function BringIn({ onShow }: Props) {
  const over = useFileDrop();
  const gathered = useBringing((state) => state.gathered);
  const { batch, shown } = useBatch();
  const [words, setWords] = useState<string | null>(null);
  const count = gathered?.files.length ?? 0;
  return (
    <>
      {over && (
        <div
          aria-hidden
          className="pointer-events-none fixed inset-2 z-50 grid place-items-center rounded-card border-2 border-dashed border-action bg-panel opacity-90"
        >
          <p className="flex items-center gap-2 font-title text-[20px] font-semibold">
            <Download size={22} /> Drop to import
          </p>
        </div>
      )}
      <DialogFrame
        open={gathered !== null}
        onClose={letFilesBe}
        title={count === 1 ? (gathered?.files[0]?.name ?? "") : `${count} files`}
        wide
      >
        {gathered && (
          <Destinations
            gathered={gathered}
            onDone={(said) => {
              letFilesBe();
              setWords(said);
            }}
          />
        )}
      </DialogFrame>
      <DialogFrame
        open={batch !== null && shown}
        onClose={() => showBatch(false)}
        title={batch ? `Into ${batch.libraryName}` : ""}
        wide
      >
        {batch && <BatchView batch={batch} onShow={onShow} />}
      </DialogFrame>
      <DialogFrame open={words !== null} onClose={() => setWords(null)} title="Imported">
        <p className="mb-3">{words}</p>
        <Button look="action" autoFocus onClick={() => setWords(null)}>
          Continue
        </Button>
      </DialogFrame>
    </>
  );
}
