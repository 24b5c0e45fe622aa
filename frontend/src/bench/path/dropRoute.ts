import { useState } from "react";
import { chainPlaces, destinationName, edit, select, useBench, withRoute } from "../../sound";
import { type Dragged, endDrag, useDragging } from "./dragging";
import { moveProcessor } from "./reordering";

/** What makes an element a place to which layers and buses can be dragged. */
export const useRouteDrop = (to: string) =>
  useDrop(
    (dragged) => dragged.kind === "route" && dragged.id !== to,
    ({ id }) => sendTo(id, to),
  );

/** What makes a part of the map a place for processors, and for layers and buses unless it is a
 * layer itself. */
export const usePartDrop = (to: string, isLayer: boolean) =>
  useDrop(
    ({ kind, id }) => kind === "processor" || (!isLayer && id !== to),
    ({ kind, id }) => (kind === "processor" ? putLast(id, to) : sendTo(id, to)),
  );

function sendTo(id: string, to: string): void {
  const sound = useBench.getState().document;
  const part = [...(sound?.layers ?? []), ...(sound?.buses ?? [])].find((one) => one.id === id);
  if (sound && part)
    edit(`${part.name} to ${destinationName(sound, to)}`, (now) => withRoute(now, id, to));
}

function putLast(id: string, to: string): void {
  const sound = useBench.getState().document;
  const chain = sound && chainPlaces(sound).find(({ ref }) => ref === to)?.chain;
  if (!chain) return;
  moveProcessor(id, to, chain.length);
  select({ kind: "processor", id });
}

function useDrop(takes: (dragged: Dragged) => boolean, onDropped: (dragged: Dragged) => void) {
  const dragged = useDragging((state) => state.dragged);
  const [over, setOver] = useState(false);
  const taking = dragged !== null && takes(dragged);
  return {
    over: taking && over,
    handlers: {
      onDragOver: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        setOver(true);
      },
      onDragLeave: () => setOver(false),
      onDrop: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        setOver(false);
        onDropped(dragged);
        endDrag();
      },
    },
  };
}
