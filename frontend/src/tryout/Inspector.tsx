import { useState } from "react";
import { OverlapPanel } from "../overlap";
import { Drawer, Leaves } from "../ui";
import { chosenPart, startLoop, useTryOut, type Heard, type RoundNow } from "../loop";
import { HitLeaf } from "./HitLeaf";
import { PartLeaf } from "./PartLeaf";
import { TryOutLeaf } from "./TryOutLeaf";
import { useTryOutRuler } from "./rulerStore";

const LEAVES = ["Part", "Hit", "Overlap", "Try-out"] as const;

/** The document as it is listened to now. */
function startHeard(): Promise<void> {
  const { document, tried } = useTryOut.getState();
  const now = tried?.document ?? document;
  return now ? startLoop({ document: now, drafts: new Map() }) : Promise.resolve();
}

/** What is chosen, in numbers; how two parts meet; the whole. */
export function Inspector({ heard, round }: { heard: Heard; round: RoundNow }) {
  const leaf = useTryOutRuler((state) => state.leaf);
  const chosen = useTryOut((state) => state.chosen);
  const part = heard.document.parts.find(({ id }) => id === chosenPart(chosen));
  const [open, setOpen] = useState(false);
  return (
    <>
      <Drawer
        side="right"
        open={open}
        onClose={() => setOpen(false)}
        closeLabel="Close inspector"
        className="relative flex min-h-0 flex-col overflow-y-auto border-l border-line-strong bg-panel narrow:w-[312px]"
      >
        <aside aria-label="Inspector" className="grid gap-3 px-4 py-2">
          <div className="narrow:pr-9">
            <Leaves
              label="Inspector"
              leaves={LEAVES}
              chosen={leaf}
              onChoose={(next) => useTryOutRuler.setState({ leaf: next })}
              wide
            />
          </div>
          {leaf === "Part" && <PartLeaf part={part} round={round} />}
          {leaf === "Hit" && <HitLeaf part={part} heard={heard} round={round} />}
          {leaf === "Overlap" && (
            <OverlapPanel
              heard={heard}
              inHand={part?.id ?? null}
              onHear={() => void startHeard()}
            />
          )}
          {leaf === "Try-out" && <TryOutLeaf />}
        </aside>
      </Drawer>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="fixed right-2 bottom-2 z-10 hidden min-h-8 rounded-control border border-ink bg-sheet px-3 text-[12.5px] narrow:block"
      >
        Inspector
      </button>
    </>
  );
}
