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

// The server answers every field written out, so none is optional here.
function allRequired(node) {
  if (Array.isArray(node)) return node.map(allRequired);
  if (node === null || typeof node !== "object") return node;
  const copy = Object.fromEntries(Object.entries(node).map(([k, v]) => [k, allRequired(v)]));
  if (copy.properties && copy.type === "object") copy.required = Object.keys(copy.properties);
  return copy;
}

const types = await compile(allRequired(withoutTitles(schema)), "Sound", {
  additionalProperties: false,
  bannerComment: "/* Made by scripts/document-types.mjs from docs/sound.schema.json; not edited by hand. */",
});
await writeFile("src/api/generated/document.ts", types);

// Processors and sources as they are before anything is set, for new ones.
const { processors, sources } = JSON.parse(await readFile("../docs/declarations.json", "utf8"));
const defaultsOf = (parts) =>
  Object.fromEntries(Object.entries(parts).map(([kind, part]) => [kind, part.defaults]));
for (const [file, parts] of [
  ["defaults", processors],
  ["source-defaults", sources],
])
  await writeFile(
    `src/api/generated/${file}.json`,
    `${JSON.stringify(defaultsOf(parts), null, 2)}\n`,
  );
