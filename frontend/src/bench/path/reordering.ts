import { create } from "zustand";
import { renderRequest, resultOf, api, type Sound } from "../../api";
import { type ChainRef, withProcessorAt, edit, useBench } from "../../sound";
import { playInRow } from "../playing";

/** The last change of an order, so that it can be compared with the one before. */
interface Reordered {
  ref: ChainRef;
  before: Sound;
  after: Sound;
  /** What is being heard, or what was found. */
  words: string | null;
}

export const useReordered = create<{ last: Reordered | null }>(() => ({ last: null }));

/** Put a processor at a place of a chain, its own or another. */
export function moveProcessor(id: string, ref: ChainRef, index: number): void {
  const before = useBench.getState().document;
  edit("Processor moved", (sound) => withProcessorAt(sound, id, ref, index));
  const after = useBench.getState().document;
  if (before && after && before !== after)
    useReordered.setState({ last: { ref, before, after, words: null } });
}

/** Play the order before and the order now, and say how far they differ. */
export async function hearBothOrders({ before, after, ref }: Reordered): Promise<void> {
  const say = (words: string) => useReordered.setState({ last: { ref, before, after, words } });
  const body = { ...renderRequest(after), other: { ...before } };
  const compared = resultOf(api.POST("/api/judging/difference", { body }));
  await playInRow([before, after], (turn) => {
    if (turn !== null) say(turn === 0 ? "previous order" : "current order");
  });
  const { change_db, loudness_db } = await compared;
  const louder = `${loudness_db >= 0 ? "+" : "−"}${Math.abs(loudness_db).toFixed(1)} LU`;
  say(change_db < 0.1 ? "no difference" : `up to ${change_db.toFixed(1)} dB apart, ${louder}`);
}
