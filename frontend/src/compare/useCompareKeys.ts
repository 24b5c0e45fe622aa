import { useEffect } from "react";
import { deck, useDeck } from "./deck";
import { useCompare } from "./store";

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.closest("input, textarea, select, [role=dialog]") !== null || target.isContentEditable);

/** Play what is chosen, or all; stop where it plays. */
export function playOrStop(): void {
  if (useDeck.getState().playing) {
    deck.stop();
    return;
  }
  const { chosen, loop } = useCompare.getState();
  deck.play({ stretch: chosen, loop });
}

/** Space plays and stops, 1 to 4 let a side be heard, 0 the difference signal, L loops. */
export function useCompareKeys(sides: number): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const place = /^Digit([1-4])$/.exec(event.code)?.[1];
      if (event.code === "Space") {
        // A button in focus is pressed by Space.
        if (event.target instanceof HTMLButtonElement) return;
        event.preventDefault();
        playOrStop();
      } else if (place !== undefined && Number(place) <= sides) deck.hear(Number(place) - 1);
      else if (event.code === "Digit0") deck.hear("difference");
      else if (event.code === "KeyL") useCompare.setState(({ loop }) => ({ loop: !loop }));
      else if (event.code === "Escape") useCompare.setState({ chosen: null });
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [sides]);
}
