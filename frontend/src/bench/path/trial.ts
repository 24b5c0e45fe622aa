import { create } from "zustand";
import type { Sound } from "../../api";
import { play, renderHit } from "../../audio";
import { useBench } from "../../sound";

/** A state that is heard without being taken over: an effect tried before it is put in. */
export const useTrial = create<{ words: string | null }>(() => ({ words: null }));

const WAIT_MS = 280;
let timer: number | undefined;
let turn = 0;

/** Hear a state a moment from now, unless another is asked for before. */
export function tryOut(words: string, change: (sound: Sound) => Sound): void {
  window.clearTimeout(timer);
  const mine = ++turn;
  timer = window.setTimeout(() => {
    const { document } = useBench.getState();
    if (!document) return;
    useTrial.setState({ words });
    renderHit(change(document))
      .then((buffer) => {
        if (mine === turn) play(buffer, `trial-${mine}`);
      })
      .catch(() => {
        // What cannot be rendered cannot be tried; taking it over says why.
        if (mine === turn) useTrial.setState({ words: null });
      });
  }, WAIT_MS);
}

/** Nothing is tried any more. */
export function endTrial(): void {
  window.clearTimeout(timer);
  turn += 1;
  useTrial.setState({ words: null });
}
