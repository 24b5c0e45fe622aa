import { useEffect } from "react";
import { setView, edit, redo, select, undo, useBench } from "./store";
import { withProcessor } from "./edits";
import { zoomBy } from "./Ruler";
import { playBench } from "./useAudition";

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest("input:not([type=checkbox]), select, textarea, [role=dialog]") !== null
  );
}

function switchSelected(): void {
  const { selection, document } = useBench.getState();
  if (selection.kind !== "processor") return;
  const part = document?.main.chain.find(({ id }) => id === selection.id);
  if (part)
    edit(`${part.kind} ${part.on ? "off" : "on"}`, (sound) =>
      withProcessor(sound, part.id, (now) => ({ ...now, on: !now.on })),
    );
}

function selectLayer(index: number): void {
  const layer = useBench.getState().document?.layers[index];
  if (layer) select({ kind: "layer", id: layer.id });
}

/** The Bench's keys: Space, 1-8, B, +, -, 0, Ctrl+Z, Ctrl+Shift+Z. */
export function useShortcuts(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isTyping(event.target)) return;
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === "z") (event.shiftKey ? redo : undo)();
      else if (command && key === "y") redo();
      else if (command || event.altKey) return;
      else if (event.code === "Space") {
        if (!event.repeat) void playBench();
      } else if (/^[1-8]$/.test(key)) selectLayer(Number(key) - 1);
      else if (key === "b") switchSelected();
      else if (key === "+" || key === "=") zoomBy(0.5);
      else if (key === "-") zoomBy(2);
      else if (key === "0") setView(null);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
