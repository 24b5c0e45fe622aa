import { useRefreshSamples } from "../api";
import { Button, ProgressLine } from "../ui";
import { type Batch, forgetBatch, showBatch, startBatch, stopBatch } from "./batch";
import { Twins } from "./Twins";
import { againWords, batchWords, doneOf } from "./batchWords";

interface Props {
  batch: Batch;
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** How far files are being sent into a library, and what became of them. */
export function BatchView({ batch, onShow }: Props) {
  const refresh = useRefreshSamples();
  const { libraryId, libraryName, of, made, there, failed, left, running, away, seconds, rules } =
    batch;
  const again = [...failed.map(({ file }) => file), ...left];
  // Two files of the same audio are one sample.
  const shown = [...new Set([...made, ...there.map(({ id }) => id)])];
  const send = (files: File[], by = rules) => {
    const library = { id: libraryId, name: libraryName };
    void startBatch(files, library, () => void refresh(), by);
  };
  const merge = () =>
    send(
      there.map(({ file }) => file),
      { ...rules, merge: true },
    );
  const show = () => {
    onShow(libraryId, shown);
    forgetBatch();
  };
  return (
    <>
      <div className="min-h-8">
        {running ? (
          <ProgressLine
            verb="Importing"
            work={{ done: doneOf(batch), of, seconds }}
            onStop={stopBatch}
          />
        ) : (
          <p role="status">{batchWords(batch)}</p>
        )}
      </div>
      {away && (
        <p role="alert" className="mt-2 text-bad">
          The server does not answer. Retrying; nothing is lost.
        </p>
      )}
      {failed.length > 0 && (
        <ul
          aria-label="What could not be imported"
          className="mt-3 max-h-[240px] overflow-y-auto rounded-control border border-line bg-sheet text-[12.5px]"
        >
          {failed.map(({ file, reason }, n) => (
            <li key={n} className="border-t border-line px-2 py-1 first:border-t-0">
              <span className="font-medium">{file.name}</span>
              <span className="ml-2 text-bad">{reason}</span>
            </li>
          ))}
        </ul>
      )}
      {!running && there.length > 0 && (
        <Twins libraryId={libraryId} there={there} merged={rules.merge} onMerge={merge} />
      )}
      <div className="mt-4 flex items-center gap-2">
        <p className="mr-auto text-[12px] text-ink-2">
          {running &&
            "It continues when this is closed (see the left edge). Keep this window open."}
        </p>
        {!running && again.length > 0 && (
          <Button onClick={() => send(again)}>{againWords(batch)}</Button>
        )}
        <Button onClick={() => (running ? showBatch(false) : forgetBatch())}>Close</Button>
        {!running && shown.length > 0 && (
          <Button look="action" autoFocus onClick={show}>
            {shown.length === 1 ? "Show it" : "Show them, selected"}
          </Button>
        )}
      </div>
    </>
  );
}
