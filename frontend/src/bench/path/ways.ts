import type { Sound } from "../../api";
import { destinationName, ownerOf } from "../../sound";
import { formatValue } from "../../ui";

/** Where a part goes and is sent to, in words. */
export function waysOf(sound: Sound, id: string): string {
  const to = [...sound.layers, ...sound.buses].find((one) => one.id === id)?.to;
  const ways = to === undefined ? [] : [`to ${destinationName(sound, to)}`];
  const sends = sound.sends
    .filter((one) => one.on && ownerOf(sound, one.source) === id)
    .map(
      (one) => `sent to ${destinationName(sound, one.to)} at ${formatValue(one.level_db, "dB")}`,
    );
  return [...ways, ...sends].join(", ");
}
