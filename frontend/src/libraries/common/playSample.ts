import type { SampleItem } from "../../api";
import { playUrl } from "../../audio";
import { matchedGainDb, sampleUrl } from "./figures";
import { useSelection } from "./queryStore";

/** Plays a sample, as loud as it is or as loud as all others. */
export function playSample(sample: SampleItem): void {
  const gainDb = useSelection.getState().levelMatched ? matchedGainDb(sample.loudness_lufs) : 0;
  void playUrl(sampleUrl(sample), `sample-${sample.id}`, gainDb);
}
