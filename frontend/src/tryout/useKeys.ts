import { useEffect, useRef } from "react";
import type { PlacedHit } from "../api";
import {
  choose,
  editTryOut,
  redoTryOut,
  startLoop,
  stopLoop,
  undoTryOut,
  useLoop,
  useTryOut,
  type Heard,
} from "../loop";
import { shifted, withHits, withoutHits, withPart } from "./edits";
import { gridBeats, showView } from "./rulerStore";

const FREE_STEP_S = 0.001;
let copied: { hits: PlacedHit[]; firstS: number } | null = null;

/** Hits that are chosen, with their part. */
function inHand() {
  const { document, chosen } = useTryOut.getState();
  if (!document || chosen.kind !== "hits") return null;
  const part = document.parts.find(({ id }) => id === chosen.part);
  return part ? { document, part, hits: chosen.hits } : null;
}

function nudge(direction: number, fine: boolean): void {
  const found = inHand();
  if (!found) return;
  const beats = gridBeats();
  const step = fine || beats === null ? FREE_STEP_S : (beats * 60) / found.document.tempo_bpm;
  editTryOut(`${found.part.name}: hits moved`, (now) =>
    withHits(now, found.part.id, found.hits, (hit) => shifted(now, hit, direction * step)),
  );
}

function louder(by: number): void {
  const found = inHand();
  if (!found) return;
  editTryOut(`${found.part.name}: velocity`, (now) =>
    withHits(now, found.part.id, found.hits, (hit) => ({
      ...hit,
      velocity: Math.max(1, Math.min(127, hit.velocity + by)),
    })),
  );
}

export function removeHits(): void {
  const found = inHand();
  if (!found) return;
  editTryOut(`${found.part.name}: hits removed`, (now) =>
    withoutHits(now, found.part.id, found.hits),
  );
  choose({ kind: "part", part: found.part.id });
}

function copy(): void {
  const found = inHand();
  if (!found) return;
  const hits = found.part.hits.filter((_, n) => found.hits.includes(n));
  copied = { hits, firstS: Math.min(...hits.map(({ at_s }) => at_s)) };
}

/** What was copied, after what is chosen, or a bar later where it was copied. */
function paste(): void {
  const { document, chosen } = useTryOut.getState();
  if (!document || !copied || chosen.kind === "tryout") return;
  const part = document.parts.find(({ id }) => id === chosen.part);
  if (!part) return;
  const { hits } = copied;
  const barS = (document.beats_a_bar * 60) / document.tempo_bpm;
  const first = part.hits.length;
  editTryOut(`${part.name}: hits pasted`, (now) =>
    withPart(now, part.id, (one) => ({
      ...one,
      hits: [...one.hits, ...hits.map((hit) => shifted(now, hit, barS))],
    })),
  );
  choose({ kind: "hits", part: part.id, hits: hits.map((_, n) => first + n) });
  copied = { hits: hits.map((hit) => shifted(document, hit, barS)), firstS: 0 };
}

function chooseAll(): void {
  const { document, chosen } = useTryOut.getState();
  if (!document || chosen.kind === "tryout") return;
  const part = document.parts.find(({ id }) => id === chosen.part);
  if (part) choose({ kind: "hits", part: part.id, hits: part.hits.map((_, n) => n) });
}

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest("input:not([type=checkbox]), select, textarea, [role=dialog], [role=menu]") !==
    null;

function pressed(event: KeyboardEvent, heard: Heard): boolean {
  const control = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  if (control) {
    if (key === "z") return (event.shiftKey ? redoTryOut() : undoTryOut(), true);
    if (key === "y") return (redoTryOut(), true);
    if (key === "c") return (copy(), true);
    if (key === "v") return (paste(), true);
    if (key === "a") return (chooseAll(), true);
    return false;
  }
  if (event.code === "Space") {
    if (useLoop.getState().playing) stopLoop();
    else void startLoop(heard);
    return true;
  }
  if (key === "0") return (showView(null), true);
  const slider = event.target instanceof HTMLElement && event.target.closest("[role=slider]");
  if (slider || !inHand()) return false;
  switch (event.key) {
    case "ArrowLeft":
      return (nudge(-1, event.altKey), true);
    case "ArrowRight":
      return (nudge(1, event.altKey), true);
    case "ArrowUp":
      return (louder(event.shiftKey ? 10 : 1), true);
    case "ArrowDown":
      return (louder(event.shiftKey ? -10 : -1), true);
    case "Delete":
    case "Backspace":
      return (removeHits(), true);
    default:
      return false;
  }
}

/** The keys of Try-out. */
export function useKeys(heard: Heard | null): void {
  const latest = useRef(heard);
  useEffect(() => {
    latest.current = heard;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const now = latest.current;
      if (now && !isTyping(event.target) && pressed(event, now)) event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
