import type { Layer, Link, Mover, Processor, Send, Sound } from "../api";
import { branchesOf } from "./chains";
import { freshId, nextPigment, renamed } from "./edits";

/** Copies of layers, with all that moves them and where they are sent. */

/** Ids of the parts of a layer, in an order that a copy of it has as well. */
function partIds(layer: Layer): string[] {
  const inChain = (chain: Processor[]): string[] =>
    chain.flatMap((part) => [
      part.id,
      ...branchesOf(part).flatMap((branch) => [branch.id, ...inChain(branch.chain)]),
    ]);
  return [layer.id, ...layer.modulators.map(({ id }) => id), ...inChain(layer.chain)];
}

/** Movers that serve this layer alone. */
function ownMovers(sound: Sound, owners: Set<string>): Mover[] {
  const ownerOf = ({ target }: Link) => target.split(".")[0] ?? "";
  return sound.movers.filter(({ id }) => {
    const links = sound.links.filter((link) => link.mover === id || link.scaled_by === id);
    return links.length > 0 && links.every((link) => owners.has(ownerOf(link)));
  });
}

/**
 * A copy of a layer right below it, with ids of its own, its links and its sends. Movers serve both
 * layers; with ``apart`` those that served this layer alone are copied too.
 */
export function withDuplicate(
  sound: Sound,
  id: string,
  { apart = false } = {},
): { sound: Sound; newId: string } {
  const index = sound.layers.findIndex((layer) => layer.id === id);
  const layer = sound.layers[index];
  const newId = freshId(sound, layer?.source.kind ?? "layer");
  if (!layer) return { sound, newId: id };
  const copy: Layer = {
    ...layer,
    id: newId,
    name: `${layer.name} copy`.slice(0, 60),
    pigment: nextPigment(sound),
    chain: renamed(layer.chain, newId),
    modulators: layer.modulators.map((one, n) => ({ ...one, id: `${newId}-mod-${n + 1}` })),
  };
  const layers = [...sound.layers.slice(0, index + 1), copy, ...sound.layers.slice(index + 1)];
  const copiedIds = partIds(copy);
  const renames = new Map(partIds(layer).map((own, n) => [own, copiedIds[n] ?? own]));
  let made: Sound = { ...sound, layers };
  if (apart)
    for (const mover of ownMovers(sound, new Set(renames.keys()))) {
      const its = freshId(made, mover.kind);
      renames.set(mover.id, its);
      const name = `${mover.name} copy`.slice(0, 60);
      made = { ...made, movers: [...made.movers, { ...mover, id: its, name }] };
    }
  // A drawn curve as a mover is named by its layer: "tone-1.level".
  const renamedPart = (address: string) => {
    const [owner = "", ...path] = address.split(".");
    return [renames.get(owner) ?? owner, ...path].join(".");
  };
  const links = sound.links
    .filter(({ target }) => renames.has(target.split(".")[0] ?? ""))
    .map((link) => ({
      ...link,
      mover: renamedPart(link.mover),
      target: renamedPart(link.target),
      scaled_by: link.scaled_by === null ? null : renamedPart(link.scaled_by),
    }));
  made = { ...made, links: [...made.links, ...links] };
  for (const send of sound.sends) {
    const source = renames.get(send.source);
    if (source === undefined) continue;
    const copied: Send = { ...send, id: freshId(made, "send"), source };
    made = { ...made, sends: [...made.sends, copied] };
  }
  return { sound: made, newId };
}
