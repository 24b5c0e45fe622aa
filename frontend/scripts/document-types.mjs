// Makes the TypeScript types of the sound document from its published JSON Schema.
import { readFile, writeFile } from "node:fs/promises";
import { compile } from "json-schema-to-typescript";

const schema = JSON.parse(await readFile("../docs/sound.schema.json", "utf8"));

// Titles are labels for screens; as type names they would name every number anew.
function withoutTitles(node, depth = 0) {
  if (Array.isArray(node)) return node.map((item) => withoutTitles(item, depth + 1));
  if (node === null || typeof node !== "object") return node;
  const entries = Object.entries(node)
    .filter(([key, value]) => !(key === "title" && typeof value === "string" && depth > 0))
    // Exact lengths would become tuples of every length.
    .filter(([key]) => key !== "minItems" && key !== "maxItems")
    .map(([key, value]) => [key, withoutTitles(value, depth + 1)]);
  return Object.fromEntries(entries);
}

// The server answers every field written out but times in beats, which most parts have none of.
const OPTIONAL = ["in_beats", "and_seconds", "macros", "macro", "document"];

function allRequired(node) {
  if (Array.isArray(node)) return node.map(allRequired);
  if (node === null || typeof node !== "object") return node;
  const copy = Object.fromEntries(Object.entries(node).map(([k, v]) => [k, allRequired(v)]));
  if (copy.properties && copy.type === "object") copy.required = Object.keys(copy.properties).filter((name) => !OPTIONAL.includes(name));
  return copy;
}

const types = await compile(allRequired(withoutTitles(schema)), "Sound", {
  additionalProperties: false,
  bannerComment:
    "/* Made by scripts/document-types.mjs from docs/sound.schema.json; not edited by hand. */",
});
await writeFile("src/api/generated/document.ts", types);

for (const [name, type] of [
  ["tryout", "TryOut"],
  ["batch", "BatchPlan"],
]) {
  const document = JSON.parse(await readFile(`../docs/${name}.schema.json`, "utf8"));
  await writeFile(
    `src/api/generated/${name}.ts`,
    await compile(allRequired(withoutTitles(document)), type, {
      additionalProperties: false,
      bannerComment: `/* Made by scripts/document-types.mjs from docs/${name}.schema.json; not edited by hand. */`,
    }),
  );
}

// Names and defaults of every kind, so that no screen writes them a second time.
const { sound, layer, processors, sources, movers, tryouts, batches } = JSON.parse(
  await readFile("../docs/declarations.json", "utf8"),
);
const of = (parts, pick) =>
  JSON.stringify(
    Object.fromEntries(Object.entries(parts).map(([kind, one]) => [kind, pick(one)])),
    null,
    2,
  );
await writeFile(
  "src/api/generated/kinds.ts",
  `/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { Layer, Mover, Processor, Sound, Source } from "../types";

type Without<Part, Names extends string> = Part extends unknown ? Omit<Part, Names> : never;
type Defaults<Part extends { kind: string }, Names extends string> = {
  [Kind in Part["kind"]]: Without<Extract<Part, { kind: Kind }>, Names>;
};
interface ProcessorName {
  name: string;
  group: string;
  /** Other words that people search for. */
  words: string;
}

export const PROCESSOR_KINDS: Record<Processor["kind"], ProcessorName> = ${of(processors, ({ name, group, words }) => ({ name, group, words }))};

export const SOURCE_NAMES: Record<Source["kind"], string> = ${of(sources, ({ name }) => name)};

export const MOVER_NAMES: Record<Mover["kind"], string> = ${of(movers, ({ name }) => name)};

export const SOUND_DEFAULTS: Omit<Sound, "name"> = ${JSON.stringify(sound.defaults, null, 2)};

export const LAYER_DEFAULTS: Omit<Layer, "id" | "name" | "source"> = ${JSON.stringify(layer.defaults, null, 2)};

export const PROCESSOR_DEFAULTS: Defaults<Processor, "id"> = ${of(processors, ({ defaults }) => defaults)};

export const SOURCE_DEFAULTS: { [Kind in Source["kind"]]: Extract<Source, { kind: Kind }> } = ${of(sources, ({ defaults }) => defaults)};

export const MOVER_DEFAULTS: Defaults<Mover, "id" | "name"> = ${of(movers, ({ defaults }) => defaults)};
`,
);
await writeFile(
  "src/api/generated/tryoutKinds.ts",
  `/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { PartDeclaration } from "../types";
import type { Duck, GameTest, Part, PlacedHit, PlaysBed, PlaysGroup, TryOut } from "./tryout";

export const TRYOUT_KINDS = ${JSON.stringify(tryouts.numbers, null, 2)} as Record<
  "tryout" | "part" | "hit" | "duck" | "game" | "sound" | "sample" | "group" | "bed",
  PartDeclaration
>;

export const TRYOUT_DEFAULTS: {
  tryout: Omit<TryOut, "name">;
  part: Omit<Part, "id" | "name" | "plays">;
  hit: Omit<PlacedHit, "at_s">;
  duck: Omit<Duck, "part" | "by">;
  game: Omit<GameTest, "part">;
  group: Omit<PlaysGroup, "samples">;
  bed: Omit<PlaysBed, "sample">;
} = ${JSON.stringify(Object.fromEntries(["tryout", "part", "hit", "duck", "game", "group", "bed"].map((one) => [one, tryouts.defaults[one]])), null, 2)};
`,
);
await writeFile(
  "src/api/generated/batchKinds.ts",
  `/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { PartDeclaration } from "../types";
import type { Axis, BatchPlan, MemberRules, PlannedSound, Spread } from "./batch";

export const BATCH_KINDS = ${JSON.stringify(batches.numbers, null, 2)} as Record<
  "batch" | "sound" | "members",
  PartDeclaration
>;

export const BATCH_DEFAULTS: {
  batch: Omit<BatchPlan, "name" | "sounds">;
  sound: Omit<PlannedSound, "id">;
  axis: Omit<Axis, "kind" | "values">;
  spread: Omit<Spread, "target" | "low" | "high">;
  members: MemberRules;
} = ${JSON.stringify(batches.defaults, null, 2)};
`,
);
