import type {
  Curve,
  Declarations,
  Link,
  Parameter,
  PartDeclaration,
  Processor,
  Sound,
} from "../api";
import { formatValue } from "../ui";
import { moverName, movedUnit, sameLink } from "./moverEdits";
import { destinationName } from "./routes";
import { targetsOf } from "./targets";
import { chainPlaces } from "./chains";
import { nameInChain } from "./processorNames";
import { curveDifferences } from "./curveDifferences";

type Tree = Record<string, unknown>;
const isTree = (value: unknown): value is Tree =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** What has an order or an identity of its own and is compared as a list, and what says nothing. */
const PARTS = [
  "and_seconds",
  "id",
  "branches",
  "buses",
  "chain",
  "in_beats",
  "layers",
  "links",
  "low_chain",
  "modulators",
  "movers",
  "schema_version",
  "sends",
];

const nameOf = (sound: Sound, layer: string) =>
  sound.layers.find(({ id }) => id === layer)?.name ?? layer;

type Named = Map<string, Parameter>;

const named = (...parts: PartDeclaration[]): Named =>
  new Map(parts.flatMap((part) => part.parameters.map((one) => [one.name, one] as const)));

const plain = (value: unknown) =>
  typeof value === "boolean" ? (value ? "on" : "off") : String(value);

/** What changed from one sound to another, in words: "Body: Level −3 dB → −6 dB". */
export function differences(before: Sound, after: Sound, declarations: Declarations): string[] {
  const { sound, hit, main, layer, unison, partials, modulator } = declarations;
  const layers = named(...Object.values(declarations.sources), unison, partials, layer);
  const processors = named(
    ...Object.values(declarations.processors).flatMap((one) => [
      one,
      ...Object.values(one.parts ?? {}),
    ]),
  );
  const movers = named(...Object.values(declarations.movers));
  const words: string[] = [];

  const compare = (owner: string, was: Tree, is: Tree, parameters: Named) => {
    for (const key of Object.keys(is)) {
      const [old, now] = [was[key], is[key]];
      if (PARTS.includes(key)) continue;
      if (isTree(old) && isTree(now)) {
        if ("points" in now) {
          const name = key === "level" || key === "pitch" ? key : "mover";
          for (const change of curveDifferences(
            old as Curve & Record<string, unknown>,
            now as Curve & Record<string, unknown>,
            name,
          ))
            words.push(`${owner}: ${change}`);
        } else compare(owner, old, now, parameters);
      } else if (Array.isArray(now)) {
        if (JSON.stringify(old) !== JSON.stringify(now)) words.push(`${owner}: ${key}`);
      } else if (old !== now) {
        const parameter = parameters.get(key);
        const label = parameter?.label ?? key.replace(/_/g, " ");
        const text = (value: unknown) =>
          parameter && typeof value === "number"
            ? formatValue(value, parameter.unit)
            : plain(value);
        words.push(`${owner}: ${label} ${text(old)} → ${text(now)}`);
      }
    }
  };

  const compareLists = <T extends { id: string }>(
    was: T[],
    is: T[],
    name: (part: T) => string,
    parameters: Named,
  ) => {
    for (const part of is) {
      const old = was.find(({ id }) => id === part.id);
      if (old)
        compare(
          name(part),
          old as Tree & Record<string, unknown>,
          part as Tree & Record<string, unknown>,
          parameters,
        );
      else words.push(`${name(part)} added`);
    }
    for (const part of was)
      if (!is.some(({ id }) => id === part.id)) words.push(`${name(part)} removed`);
    const kept = (list: T[], other: T[]) =>
      list.filter(({ id }) => other.some((one) => one.id === id)).map(({ id }) => id);
    if (kept(was, is).join() !== kept(is, was).join()) words.push("Order changed");
  };

  compare(
    "Sound",
    { ...before, main: null, hit: null },
    { ...after, main: null, hit: null },
    named(sound),
  );
  compare("Hit", { ...before.hit }, { ...after.hit }, named(hit));
  compare("Main", { ...before.main }, { ...after.main }, named(main));
  compareLists(before.layers, after.layers, (one) => one.name, layers);
  for (const one of after.layers) {
    const old = before.layers.find(({ id }) => id === one.id)?.modulators ?? one.modulators;
    const called = ({ by }: { by: string }) => `${one.name} modulated by ${nameOf(after, by)}`;
    compareLists(old, one.modulators, called, named(modulator));
  }
  compareLists(before.buses, after.buses, ({ name }) => name, named(declarations.bus));
  const sent = ({ to }: { to: string }) => `Send to ${destinationName(after, to)}`;
  compareLists(before.sends, after.sends, sent, named(declarations.send));
  const was = chainPlaces(before);
  for (const place of chainPlaces(after)) {
    const old = was.find(({ ref }) => ref === place.ref)?.chain ?? place.chain;
    const name = (part: Processor) => {
      const own = nameInChain(place.chain.includes(part) ? place.chain : old, part);
      return place.ref === "main" ? own : `${place.name} ${own}`;
    };
    compareLists(old, place.chain, name, processors);
  }
  compareLists(before.movers, after.movers, ({ name }) => name, movers);
  compareLinks(before, after, words, declarations);
  return words;
}

/** Links by what they move: made, ended, or by another amount. */
function compareLinks(before: Sound, after: Sound, words: string[], declarations: Declarations) {
  const targets = [...targetsOf(before, declarations), ...targetsOf(after, declarations)];
  const wordsOf = (link: Link, sound: Sound) => {
    const found = targets.find(({ target }) => target === link.target);
    const mover = moverName(sound, link.mover);
    const where = found ? `${found.owner}: ${found.parameter.label}` : link.target;
    const amount = (value: number) =>
      found ? formatValue(value, movedUnit(found.parameter, link.law)) : String(value);
    return { moved: `${where} moved by ${mover}`, amount };
  };
  for (const link of after.links) {
    const old = before.links.find((one) => sameLink(one, link));
    const { moved, amount } = wordsOf(link, after);
    if (!old) words.push(`${moved} ${amount(link.amount)}`);
    else if (old.amount !== link.amount)
      words.push(`${moved} ${amount(old.amount)} → ${amount(link.amount)}`);
    else if (JSON.stringify(old) !== JSON.stringify(link)) words.push(`${moved}: changed`);
  }
  for (const link of before.links)
    if (!after.links.some((one) => sameLink(one, link)))
      words.push(`${wordsOf(link, before).moved}: ended`);
}
