import { loadAudio, play, stopPlaying } from "../audio";
import { useBatch } from "./store";

const urlOf = (round: number, number: number, times: number) =>
  `/api/rounds/${round}/members/${number}/audio?drawn=${times}`;

let turn = 0;

/** Play a member at once; one that is not made yet is rendered for this. */
export async function hear(number: number): Promise<void> {
  const { round, rows } = useBatch.getState();
  if (!round) return;
  const mine = ++turn;
  const row = rows.get(number);
  if (row && row.words !== "") return;
  const url = urlOf(round.id, number, row?.times ?? 0);
  try {
    const buffer = await loadAudio(url);
    // Keys pressed quickly play only the member at which they stop.
    if (mine === turn) play(buffer, url);
  } catch {
    if (mine === turn) useBatch.setState({ problem: `Member ${number} could not be played` });
  }
}

let timer: number | undefined;

/** Whether the family is heard one after the other, as a game would play it. */
export const runIsPlaying = () => timer !== undefined;

export function stopRun(): void {
  window.clearTimeout(timer);
  timer = undefined;
  stopPlaying();
}

/** Members one after the other: in turn, or at random and never the same twice. */
export function hearRun(numbers: readonly number[], everyS: number, random: boolean): void {
  stopRun();
  let place = 0;
  let last = -1;
  const next = () => {
    if (numbers.length === 0) return;
    let at = place % numbers.length;
    if (random) {
      at = Math.floor(Math.random() * numbers.length);
      if (at === last && numbers.length > 1) at = (at + 1) % numbers.length;
    }
    place += 1;
    last = at;
    const number = numbers[at];
    if (number !== undefined) {
      useBatch.setState({ inHand: number });
      void hear(number);
    }
    timer = window.setTimeout(next, 1000 * everyS);
  };
  next();
}
