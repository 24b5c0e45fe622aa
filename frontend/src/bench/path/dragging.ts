import { create } from "zustand";

/** What is being dragged along the path: a processor to a chain, or a layer or bus to a bus. */
export interface Dragged {
  kind: "processor" | "route";
  id: string;
}

export const useDragging = create<{ dragged: Dragged | null }>(() => ({ dragged: null }));

export const endDrag = () => useDragging.setState({ dragged: null });

/** What makes an element something that can be dragged. */
export const dragSource = (kind: Dragged["kind"], id: string) => ({
  draggable: true,
  onDragStart: (event: React.DragEvent) => {
    event.stopPropagation();
    event.dataTransfer.effectAllowed = "move";
    // Firefox drags nothing without data.
    event.dataTransfer.setData("text/plain", id);
    useDragging.setState({ dragged: { kind, id } });
  },
  onDragEnd: endDrag,
});
