import type { MoverKind, Source } from "../../api";
import {
  edit,
  MOVER_KINDS,
  MOVER_NAMES,
  MOST_LAYERS,
  newLayer,
  newMover,
  select,
  showMover,
  showTab,
  useBench,
} from "../../sound";
import { addBus, canAddBus } from "../path";
import type { Entry } from "./entry";
import synonyms from "./synonyms.json";

/** Other words of the trade that a thing is found by. */
export const synonymsOf = (key: string): string =>
  (synonyms as Partial<Record<string, string>>)[key] ?? "";

const LAYERS: Record<Source["kind"], string> = {
  tone: "tone",
  wavetable: "wavetable",
  noise: "noise",
  struck: "struck body",
  sample: "sample",
};

function addLayer(kind: Source["kind"]): void {
  const { document } = useBench.getState();
  if (!document || document.layers.length >= MOST_LAYERS) return;
  const layer = newLayer(document, kind);
  edit(`Layer added: ${layer.name}`, (sound) => ({ ...sound, layers: [...sound.layers, layer] }));
  select({ kind: "layer", id: layer.id });
  showTab("source");
}

function addMover(kind: MoverKind): void {
  const { document } = useBench.getState();
  if (!document) return;
  const mover = newMover(document, kind);
  edit(`Mover added: ${mover.name}`, (now) => ({ ...now, movers: [...now.movers, mover] }));
  showMover(mover.id);
}

/** Layers, movers and buses to add. */
export function additions(): Entry[] {
  const layers = (Object.keys(LAYERS) as Source["kind"][]).map((kind) => ({
    key: `layer-${kind}`,
    label: `Add layer: ${LAYERS[kind]}`,
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
