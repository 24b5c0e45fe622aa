import { useEffect, useRef } from "react";
import { hear, runIsPlaying, stopRun } from "./hearing";
import { judge, redoBatch, star, undoBatch } from "./history";
import { drawAnother } from "./run";
import { useBatch } from "./store";

/** How many members stand beside each other, as the sheet says. */
export const sheetShape = { columns: 1 };

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest("input:not([type=checkbox]), select, textarea, [role=dialog], [role=menu]") !==
    null;

/** Take a member in hand, and hear it. */
export function takeInHand(number: number): void {
  if (runIsPlaying()) stopRun();
  useBatch.setState({ inHand: number });
  void hear(number);
}

function move(numbers: readonly number[], by: number): void {
  const { inHand } = useBatch.getState();
  const at = Math.max(0, numbers.indexOf(inHand));
  const next = numbers[Math.max(0, Math.min(numbers.length - 1, at + by))];
  if (next !== undefined) takeInHand(next);
}

/** After a verdict the next member is in hand, where the one judged does not go. */
function judged(numbers: readonly number[], verdict: "kept" | "rejected"): void {
  const { inHand } = useBatch.getState();
  const after = numbers[numbers.indexOf(inHand) + 1];
  judge([inHand], verdict);
  if (after !== undefined) takeInHand(after);
}

export function togglePicked(number: number): void {
  if (useBatch.getState().rows.get(number)?.words !== "") return;
  useBatch.setState(({ picked }) => ({
    picked: picked.includes(number)
      ? picked.filter((one) => one !== number)
      : [...picked, number].slice(-5),
  }));
}

function pressed(event: KeyboardEvent, numbers: readonly number[]): boolean {
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) {
    if (key === "z") return (event.shiftKey ? redoBatch() : undoBatch(), true);
    if (key === "y") return (redoBatch(), true);
    return false;
  }
  const { inHand } = useBatch.getState();
  const row = sheetShape.columns;
  switch (event.key) {
    case "ArrowLeft":
      return (move(numbers, -1), true);
    case "ArrowRight":
      return (move(numbers, 1), true);
    case "ArrowUp":
      return (move(numbers, -row), true);
    case "ArrowDown":
      return (move(numbers, row), true);
    case "PageUp":
      return (move(numbers, -5 * row), true);
    case "PageDown":
      return (move(numbers, 5 * row), true);
    case "Home":
      return (move(numbers, -numbers.length), true);
    case "End":
      return (move(numbers, numbers.length), true);
    case " ":
      if (runIsPlaying()) stopRun();
      else void hear(inHand);
      return true;
  }
  switch (key) {
    case "k":
      return (judged(numbers, "kept"), true);
    case "r":
      return (judged(numbers, "rejected"), true);
    case "s":
      return (star(inHand), true);
    case "m":
      return (togglePicked(inHand), true);
    case "d":
      return (void drawAnother([inHand]), true);
    default:
      return false;
  }
}

/** The keys of the sheet. */
export function useKeys(numbers: readonly number[]): void {
  const latest = useRef(numbers);
  useEffect(() => {
    latest.current = numbers;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isTyping(event.target)) return;
      const slider = event.target instanceof HTMLElement && event.target.closest("[role=slider]");
      const button = event.target instanceof HTMLElement && event.target.closest("button, a");
      if (slider || (button && (event.key === " " || event.key === "Enter"))) return;
      if (pressed(event, latest.current)) event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
