import type { Processor } from "../api";
import { PROCESSOR_KINDS } from "../api/generated/kinds";

type Kind = Processor["kind"];

const KINDS = Object.keys(PROCESSOR_KINDS) as Kind[];

export const processorName = (kind: Kind): string => PROCESSOR_KINDS[kind].name;

/** A processor's name in its chain: the second of two delays is "Delay 2". */
export function nameInChain(chain: readonly Processor[], part: Processor): string {
  const like = chain.filter(({ kind }) => kind === part.kind);
  const place = like.findIndex(({ id }) => id === part.id);
  return place > 0 ? `${processorName(part.kind)} ${place + 1}` : processorName(part.kind);
}

/** Other words that people search for. */
export const processorWords = (kind: Kind): string => PROCESSOR_KINDS[kind].words;

/** Processors by what they are for, as menus list them. */
export const PROCESSOR_GROUPS: [string, Kind[]][] = [
  ...new Set(KINDS.map((kind) => PROCESSOR_KINDS[kind].group)),
].map((group) => [group, KINDS.filter((kind) => PROCESSOR_KINDS[kind].group === group)]);
