import type { Sound } from "../api";
import { findProcessor, withProcessor } from "./chains";
import { matchingGainDb, usePins } from "./pinStore";
import { processorName } from "./processorNames";
import { edit, useBench } from "./store";

/** A state that was reached by switching alone, and the loudness it shall be heard at. */
interface Matched {
  document: Sound;
  loudnessLufs: number;
}

let matched: Matched | null = null;

export const toggleMatching = () =>
  useBench.setState((state) => ({ matchSwitched: !state.matchSwitched }));

/** Switch a processor off or on; level-matched, the change is heard at the loudness before it. */
export function switchProcessor(id: string): void {
  const { document, audition, shown, matchSwitched } = useBench.getState();
  const part = document && findProcessor(document, id);
  if (!part) return;
  const known = matched?.document === document ? matched.loudnessLufs : null;
  const heard = shown === document ? audition?.measures.loudness_lufs : undefined;
  edit(`${processorName(part.kind)} ${part.on ? "off" : "on"}`, (sound) =>
    withProcessor(sound, id, (now) => ({ ...now, on: !now.on })),
  );
  const loudnessLufs = known ?? heard;
  const after = useBench.getState().document;
  matched =
    matchSwitched && after && loudnessLufs !== undefined && loudnessLufs > -100
      ? { document: after, loudnessLufs }
      : null;
}

const MOST_DB = 24;

/** Whether a render's loudness decides how it is played. */
export const needsLoudness = (document: Sound): boolean =>
  matched?.document === document || usePins.getState().matched;

/** By how much to play a render louder or quieter than it is. */
export function playbackGainDb(document: Sound, loudnessLufs: number): number {
  if (matched?.document === document && loudnessLufs > -100)
    return Math.max(-MOST_DB, Math.min(MOST_DB, matched.loudnessLufs - loudnessLufs));
  return matchingGainDb(loudnessLufs);
}
