import { addLayer, addMover, LAYER_KINDS, MOVER_KINDS, MOVER_NAMES, useBench } from "../../sound";
import { addBus, canAddBus } from "../path";
import type { Entry } from "./entry";
import synonyms from "./synonyms.json";

/** Other words of the trade that a thing is found by. */
export const synonymsOf = (key: string): string =>
  (synonyms as Partial<Record<string, string>>)[key] ?? "";

/** Layers, movers and buses to add. */
export function additions(): Entry[] {
  const layers = LAYER_KINDS.map(([kind, words]) => ({
    key: `layer-${kind}`,
    label: `Add layer: ${words}`,
    group: "Layer",
    words: synonymsOf(`layer ${kind}`),
    act: () => addLayer(kind),
  }));
  const movers = MOVER_KINDS.map((kind) => ({
    key: `mover-${kind}`,
    label: `Add mover: ${MOVER_NAMES[kind]}`,
    group: "Mover",
    words: synonymsOf(`mover ${kind}`),
    act: () => addMover(kind),
  }));
  const bus: Entry = {
    key: "bus",
    label: "Add bus",
    group: "Path",
    words: synonymsOf("bus"),
    act: () => {
      const { document } = useBench.getState();
      if (document && canAddBus(document)) addBus(document);
    },
  };
  return [...layers, ...movers, bus];
}
