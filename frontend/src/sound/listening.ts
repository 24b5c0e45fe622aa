import type { Sound } from "../api";
import { chainPlaces } from "./chains";
import { nameInChain } from "./processorNames";
import { useBench } from "./store";

/** Listen at a step of the path instead of the output; again, and the output is heard. */
export const listenAt = (id: string | null) =>
  useBench.setState((state) => ({ listenAt: state.listenAt === id ? null : id }));

/** What a step of the path is called; null where it is not there. */
export function stepName(sound: Sound, id: string): string | null {
  if (id === "main") return "Main chain";
  const part = [...sound.layers, ...sound.buses].find((one) => one.id === id);
  if (part) return part.name;
  for (const place of chainPlaces(sound)) {
    const found = place.chain.find((one) => one.id === id);
    if (found) return `${place.name}: ${nameInChain(place.chain, found)}`;
  }
  return null;
}
