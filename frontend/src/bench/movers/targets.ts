import type { Declarations, Parameter, PartDeclaration, Sound } from "../../api/types";
import { allProcessors, chainPlaces } from "../chains";
import { isPitched } from "../edits";
import { PROCESSOR_NAMES } from "../processorNames";

/** Something that a link may move, with what it is called. */
export interface Target {
  target: string;
  owner: string;
  parameter: Parameter;
}

/** Every target of a sound, in the order of the path. */
export function targetsOf(sound: Sound, declarations: Declarations): Target[] {
  const found: Target[] = [];
  const add = (id: string, owner: string, declaration: PartDeclaration, path = "") => {
    for (const parameter of declaration.parameters)
      found.push({ target: `${id}.${path}${parameter.name}`, owner, parameter });
  };
  for (const { id, name, source } of sound.layers) {
    if (isPitched(source))
      found.push({ target: `${id}.pitch_st`, owner: name, parameter: declarations.pitch });
    add(id, name, declarations.layer);
    add(id, name, declarations.sources[source.kind], "source.");
    if ("unison" in source) add(id, name, declarations.unison, "source.unison.");
    if ("partials" in source) add(id, name, declarations.partials, "source.partials.");
    add(id, `${name} modulation`, declarations.modulation, "modulation.");
  }
  for (const place of chainPlaces(sound))
    for (const part of place.chain) {
      const declaration = declarations.processors[part.kind];
      const owner = `${place.name} ${PROCESSOR_NAMES[part.kind]}`;
      add(part.id, owner, declaration);
      for (const [name, inner] of Object.entries(declaration.parts ?? {}))
        add(part.id, `${owner} ${name.replace(/_/g, " ")}`, inner, `${name}.`);
    }
  for (const { id, name } of sound.buses) add(id, name, declarations.bus);
  add("main", "Main", declarations.main);
  for (const { id, name, kind } of sound.movers) add(id, name, declarations.movers[kind]);
  return found;
}

const INNER = ["modulation", "unison", "partials"];
/** What the parts within a processor are called among what is followed. */
const INNER_KINDS: Partial<Record<string, string>> = {
  equaliser: "equaliserband",
  multiband: "dynamicsband",
};

/** Whether what moves a target moves it all through the hit; else once, at its start. */
export function isFollowed(sound: Sound, target: string, { followed }: Declarations): boolean {
  const [id = "", ...path] = target.split(".");
  const name = path.at(-1) ?? "";
  const inner = path.at(-2);
  const kind = (): string => {
    if (inner && INNER.includes(inner)) return inner;
    const layer = sound.layers.find((one) => one.id === id);
    if (layer) return inner === "source" ? layer.source.kind : "layer";
    if (id === "main") return "main";
    if (sound.buses.some((one) => one.id === id)) return "bus";
    const part = [...allProcessors(sound), ...sound.movers].find((one) => one.id === id);
    return inner && part ? (INNER_KINDS[part.kind] ?? "") : (part?.kind ?? "");
  };
  return followed[kind()]?.includes(name) ?? false;
}

/** Whether a mover may move a target: one that differs by voice only numbers of a tone. */
export function mayMove(
  sound: Sound,
  mover: { id: string; kind: string },
  target: string,
  declarations: Declarations,
): boolean {
  const [id, ...path] = target.split(".");
  if (id === mover.id) return false;
  if (mover.kind !== "voice") return true;
  const tone = sound.layers.some((one) => one.id === id && "unison" in one.source);
  const ofTone = path[0] === "pitch_st" || (path[0] === "source" && path.length === 2);
  return tone && ofTone && isFollowed(sound, target, declarations);
}
