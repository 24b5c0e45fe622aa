import { useState } from "react";
import { destinationName, withRoute, edit, useBench } from "../../sound";
import { endDrag, useDragging } from "./dragging";

/** What makes an element a place to which layers and buses can be dragged. */
export function useRouteDrop(to: string) {
  const dragged = useDragging((state) => state.dragged);
  const [over, setOver] = useState(false);
  const taking = dragged?.kind === "route" && dragged.id !== to;
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
        const sound = useBench.getState().document;
        const part = [...(sound?.layers ?? []), ...(sound?.buses ?? [])].find(
          ({ id }) => id === dragged.id,
        );
        if (sound && part)
          edit(`${part.name} to ${destinationName(sound, to)}`, (now) =>
            withRoute(now, part.id, to),
          );
        endDrag();
      },
    },
  };
}
