import type { Curve, Declarations, Parameter, PartDeclaration, Sound } from "../../api/types";
import { formatValue } from "../../ui/units";
import { curveDifferences } from "./curveDifferences";

type Tree = Record<string, unknown>;
const isTree = (value: unknown): value is Tree =>
  typeof value === "object" && value !== null && !Array.isArray(value);

type Named = Map<string, Parameter>;

const named = (...parts: PartDeclaration[]): Named =>
  new Map(parts.flatMap((part) => part.parameters.map((one) => [one.name, one] as const)));

const plain = (value: unknown) =>
  typeof value === "boolean" ? (value ? "on" : "off") : String(value);

/** What changed from one sound to another, in words: "Body: Level −3 dB → −6 dB". */
export function differences(before: Sound, after: Sound, declarations: Declarations): string[] {
  const { sound, hit, main, layer, unison, partials } = declarations;
  const layers = named(...Object.values(declarations.sources), unison, partials, layer);
  const processors = named(...Object.values(declarations.processors));
  const words: string[] = [];

  const compare = (owner: string, was: Tree, is: Tree, parameters: Named) => {
    for (const key of Object.keys(is)) {
      const [old, now] = [was[key], is[key]];
      if (key === "id" || key === "chain" || key === "layers" || key === "schema_version") continue;
      if (isTree(old) && isTree(now)) {
        if ("points" in now) {
          const name = key === "level" ? "level" : "pitch";
          for (const change of curveDifferences(
            old as unknown as Curve,
            now as unknown as Curve,
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
      if (old) compare(name(part), old as unknown as Tree, part as unknown as Tree, parameters);
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
  compareLists(
    before.main.chain,
    after.main.chain,
    (part) => (part.kind === "filter" ? "Filter" : "Drive"),
    processors,
  );
  return words;
}
