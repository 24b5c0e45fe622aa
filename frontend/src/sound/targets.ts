import type { Declarations, Parameter, PartDeclaration, Sound, StruckSource } from "../api";
import { branchesOf, chainPlaces } from "./chains";
import { isPitched } from "./edits";
import { nameInChain } from "./processorNames";
import { destinationName } from "./routes";

/** Something that a link may move, with what it is called. */
export interface Target {
  target: string;
  owner: string;
  parameter: Parameter;
}

/** A body's modes that were changed or are moved: all of them would fill every list. */
function modesInHand(sound: Sound, layerId: string, source: StruckSource): number[] {
  const linked = sound.links.flatMap(({ target }) => {
    const found = MODE_OF.exec(target);
    return found?.[1] === layerId ? [Number(found[2])] : [];
  });
  return [...new Set([...source.changes.map(({ mode }) => mode), ...linked])].sort((a, b) => a - b);
}

const MODE_OF = /^([^.]+)\.source\.mode(\d+)\./;

/** The target at a path, a mode that nothing was done to yet among them. */
export function targetAt(
  sound: Sound,
  declarations: Declarations,
  target: string,
): Target | undefined {
  const found = targetsOf(sound, declarations).find((one) => one.target === target);
  const mode = MODE_OF.exec(target);
  const layer = sound.layers.find(({ id }) => id === mode?.[1]);
  if (found || !mode || layer?.source.kind !== "struck") return found;
  const name = target.split(".").at(-1);
  const parameter = declarations.mode_change.parameters.find((one) => one.name === name);
  return parameter && { target, owner: `${layer.name} mode ${mode[2]}`, parameter };
}

/** Every target of a sound, in the order of the path. */
export function targetsOf(sound: Sound, declarations: Declarations): Target[] {
  const found: Target[] = [
    { target: "common.pitch_st", owner: "Sound", parameter: declarations.common_pitch },
  ];
  const add = (id: string, owner: string, declaration: PartDeclaration, path = "") => {
    for (const parameter of declaration.parameters)
      found.push({ target: `${id}.${path}${parameter.name}`, owner, parameter });
  };
  for (const { id, name, source, modulators } of sound.layers) {
    if (isPitched(source))
      found.push({ target: `${id}.pitch_st`, owner: name, parameter: declarations.pitch });
    add(id, name, declarations.layer);
    add(id, name, declarations.sources[source.kind], "source.");
    if ("unison" in source) add(id, name, declarations.unison, "source.unison.");
    if ("partials" in source) add(id, name, declarations.partials, "source.partials.");
    if (source.kind === "struck")
      for (const mode of modesInHand(sound, id, source))
        add(id, `${name} mode ${mode}`, declarations.mode_change, `source.mode${mode}.`);
    for (const one of modulators) add(one.id, `${name} modulator`, declarations.modulator);
  }
  for (const place of chainPlaces(sound))
    for (const part of place.chain) {
      const declaration = declarations.processors[part.kind];
      const owner = `${place.name} ${nameInChain(place.chain, part)}`;
      add(part.id, owner, declaration);
      for (const [name, inner] of Object.entries(declaration.parts ?? {}))
        add(part.id, `${owner} ${name.replace(/_/g, " ")}`, inner, `${name}.`);
      for (const branch of branchesOf(part))
        add(branch.id, `${owner} ${branch.name}`, declarations.branch);
    }
  for (const { id, name } of sound.buses) add(id, name, declarations.bus);
  for (const { id, to } of sound.sends)
    add(id, `Send to ${destinationName(sound, to)}`, declarations.send);
  add("main", "Main", declarations.main);
  for (const { id, name, kind } of sound.movers) add(id, name, declarations.movers[kind]);
  return found;
}

/** Whether what moves a target moves it all through the hit; else once, at its start. */
export const isFollowed = (sound: Sound, target: string, declarations: Declarations): boolean =>
  targetAt(sound, declarations, target)?.parameter.followed ?? false;

/** Whether a mover may move a target: one that differs by voice only numbers of a tone. */
export function mayMove(
  sound: Sound,
  mover: { id: string; kind: string },
  target: string,
  declarations: Declarations,
): boolean {
  const [id, ...path] = target.split(".");
  if (id === mover.id) return false;
  const [owner, curve] = mover.id.split(".");
  if (curve !== undefined && id === owner) {
    // What the curve says already, and when it begins.
    const own = curve === "level" ? "level_db" : "pitch_st";
    if (path[0] === own || path[0] === "delay_s") return false;
  }
  if (mover.kind !== "voice") return true;
  const tone = sound.layers.some((one) => one.id === id && "unison" in one.source);
  if (tone && target.endsWith(".source.phase_deg")) return true;
  const ofTone = path[0] === "pitch_st" || (path[0] === "source" && path.length === 2);
  return tone && ofTone && isFollowed(sound, target, declarations);
}
