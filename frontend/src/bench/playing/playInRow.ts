import type { Sound } from "../../api";
import { useBench } from "../../sound";
import { playDocument } from "./playBench";

const LONGEST_MS = 4000;
const PAUSE_MS = 120;

let turn = 0;

/** Several states of the sound one after the other; a newer call ends an older one. */
export async function playInRow(documents: Sound[], onTurn?: (index: number | null) => void) {
  const mine = ++turn;
  const lengthS = useBench.getState().audition?.measures.length_s ?? 1;
  for (const [index, document] of documents.entries()) {
    if (mine !== turn) return;
    onTurn?.(index);
    await playDocument(document);
    await new Promise((done) =>
      window.setTimeout(done, Math.min(LONGEST_MS, lengthS * 1000) + PAUSE_MS),
    );
  }
  onTurn?.(null);
}
