import type { Declarations, Processor, Sound, SoundItem } from "../../api";
import {
  targetsOf,
  addInHand,
  placeInHand,
  replaceWith,
  withLoaded,
  withNewInHand,
  withReplaced,
  PROCESSOR_GROUPS,
  processorName,
  processorWords,
  edit,
  select,
  useBench,
} from "../../sound";
import { COMMANDS } from "../commands";
import type { SavedChain } from "../path";
import type { Finding } from "../parts";
import { additions, synonymsOf } from "./adding";
import type { Entry } from "./entry";

const KINDS = PROCESSOR_GROUPS.flatMap(([group, kinds]) => kinds.map((kind) => ({ group, kind })));

function processors(finding: Finding): Entry[] {
  return KINDS.map(({ group, kind }) => {
    const replacing = finding.mode === "replace" ? finding.id : null;
    const name = processorName(kind);
    return {
      key: `processor-${kind}`,
      label: finding.mode === "all" ? `Add ${name}` : name,
      group: group,
      words: `${processorWords(kind)} ${synonymsOf(`processor ${kind}`)}`,
      act: () => (replacing === null ? addInHand(kind) : replaceWith(replacing, kind)),
      tried: (sound) =>
        replacing === null
          ? withNewInHand(sound, kind).sound
          : withReplaced(sound, replacing, kind),
    };
  });
}

function savedChains(chains: SavedChain[]): Entry[] {
  const place = (sound: Sound) => placeInHand(sound, useBench.getState().selection).ref;
  return chains.map((saved) => ({
    key: `chain-${saved.id}`,
    label: `Load chain ${saved.name}`,
    group: "Chain",
    words: saved.chain.map((part: Processor) => processorName(part.kind)).join(" "),
    act: () =>
      edit(`Chain ${saved.name} loaded`, (sound) => withLoaded(sound, place(sound), saved.chain)),
    tried: (sound) => withLoaded(sound, place(sound), saved.chain),
  }));
}

const commands = (): Entry[] =>
  COMMANDS.filter(({ words, when }) => words !== null && (!when || when())).map(
    ({ name, words, run }) => ({
      key: `command-${name}`,
      label: name,
      group: "Command",
      words: `${words ?? ""} ${name === "Notes of the hit" ? synonymsOf("notes") : ""}`,
      act: () => run(),
    }),
  );

/** Select the part that a parameter belongs to. */
function selectPart(sound: Sound, id: string): void {
  if (id === "main") select({ kind: "main" });
  else if (sound.layers.some((one) => one.id === id)) select({ kind: "layer", id });
  else if (sound.buses.some((one) => one.id === id)) select({ kind: "bus", id });
  else if (sound.movers.some((one) => one.id === id)) select({ kind: "mover", id });
  else select({ kind: "processor", id });
}

function parameters(sound: Sound, declarations: Declarations): Entry[] {
  return targetsOf(sound, declarations).map(({ target, owner, parameter }) => ({
    key: `parameter-${target}`,
    label: `${owner}: ${parameter.label}`,
    group: "Parameter",
    words: parameter.name.replace(/_/g, " "),
    act: () => selectPart(sound, target.split(".")[0] ?? ""),
  }));
}

interface Sources {
  finding: Finding;
  sound: Sound;
  declarations: Declarations;
  chains: SavedChain[];
  sounds: SoundItem[];
  openSound: (id: number) => void;
}

export function entriesFor({
  finding,
  sound,
  declarations,
  chains,
  sounds,
  openSound,
}: Sources): Entry[] {
  if (finding.mode === "replace") return processors(finding);
  if (finding.mode === "processor") return [...processors(finding), ...savedChains(chains)];
  return [
    ...commands(),
    ...processors(finding),
    ...additions(),
    ...savedChains(chains),
    ...parameters(sound, declarations),
    ...sounds.map(({ id, name, library_name }) => ({
      key: `sound-${id}`,
      label: `Open ${name}`,
      group: "Sound",
      words: library_name,
      act: () => openSound(id),
    })),
  ];
}

const startsOne = (text: string, word: string) =>
  text.split(/\s+/).some((part) => part.startsWith(word));

/** How well an entry fits what was typed: every word must be found; in the name is best. */
export function fit(entry: Entry, typed: string): number {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const label = entry.label.toLowerCase();
  const rest = entry.words.toLowerCase();
  let score = 0;
  for (const word of words) {
    const parts = label.split(/[\s:,()]+/);
    if (parts.some((part) => part.startsWith(word))) score += 4;
    else if (label.includes(word)) score += 2;
    else if (startsOne(rest, word)) score += 1.5;
    else if (rest.includes(word)) score += 1;
    else return 0;
  }
  return score + 1 - label.length / 1000;
}

const MOST = 40;

export const found = (entries: Entry[], typed: string): Entry[] =>
  entries
    .map((entry, order) => ({ entry, order, score: fit(entry, typed) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) =>
      typed.trim() === "" ? a.order - b.order : b.score - a.score || a.order - b.order,
    )
    .slice(0, MOST)
    .map(({ entry }) => entry);
