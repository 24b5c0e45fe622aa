import type { MoverKind, Source } from "../api";
import { edit, select, showMover, showTab, useBench } from "./store";
import { MOST_LAYERS, newLayer } from "./edits";
import { newMover } from "./moverEdits";

/** What can be added from several places of the screen: each is one step, and is selected. */

/** Kinds of layers in the order in which they are offered, as they are written there. */
export const LAYER_KINDS: readonly (readonly [Source["kind"], string])[] = [
  ["tone", "tone"],
  ["wavetable", "wavetable"],
  ["noise", "noise"],
  ["struck", "struck body"],
  ["sample", "sample"],
];

export function addLayer(kind: Source["kind"]): void {
  const { document } = useBench.getState();
  if (!document || document.layers.length >= MOST_LAYERS) return;
  const layer = newLayer(document, kind);
  edit(`Layer added: ${layer.name}`, (sound) => ({ ...sound, layers: [...sound.layers, layer] }));
  select({ kind: "layer", id: layer.id });
  showTab("source");
}

export function addMover(kind: MoverKind): void {
  const { document } = useBench.getState();
  if (!document) return;
  const mover = newMover(document, kind);
  edit(`Mover added: ${mover.name}`, (now) => ({ ...now, movers: [...now.movers, mover] }));
  showMover(mover.id);
}
