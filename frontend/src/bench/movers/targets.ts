import type { Declarations, Parameter, Processor, Sound } from "../../api/types";
import { PROCESSOR_NAMES } from "../processorNames";

/** Something that a link may move, with what it is called. */
export interface Target {
  target: string;
  owner: string;
  parameter: Parameter;
}

/** Every target of a sound, in the order of the path. */
export function targetsOf(sound: Sound, declarations: Declarations): Target[] {
  const { movable } = declarations;
  const found: Target[] = [];
  const add = (
    id: string,
    owner: string,
    { parameters }: { parameters: Parameter[] },
    names?: string[],
    path = "",
  ) => {
    for (const parameter of parameters)
      if (!names || names.includes(parameter.name))
        found.push({ target: `${id}.${path}${parameter.name}`, owner, parameter });
  };
  const processor = (part: Processor, of: string) =>
    add(
      part.id,
      `${of} ${PROCESSOR_NAMES[part.kind]}`,
      declarations.processors[part.kind],
      movable.processor[part.kind] ?? [],
    );
  for (const layer of sound.layers) {
    const { id, name, source } = layer;
    if (source.kind === "tone") add(id, name, { parameters: [declarations.pitch] });
    add(id, name, declarations.layer, movable.layer[""] ?? []);
    add(id, name, declarations.sources[source.kind], movable.source[source.kind] ?? [], "source.");
    const modulated = movable.modulation[""] ?? [];
    add(id, name, declarations.modulation, modulated, "modulation.");
    for (const part of layer.chain) processor(part, name);
  }
  for (const part of sound.main.chain) processor(part, "Main");
  add("main", "Main", declarations.main);
  for (const { id, name, kind } of sound.movers)
    add(id, name, declarations.movers[kind], movable.mover[kind] ?? []);
  return found;
}
