import type { Layer, Sound, Source } from "../api";

/** Names of layers: what their source is, until someone gives them another. */

const SHAPES = ["Sine", "Triangle", "Sawtooth", "Pulse"];
const COLOURS: Partial<Record<number, string>> = {
  [-6]: "Brown",
  [-3]: "Pink",
  0: "White",
  3: "Blue",
  6: "Violet",
};
const MOST_CHARACTERS = 50;

function written(name: string): string {
  const words = name.replace(/[_-]/g, " ").trim().slice(0, MOST_CHARACTERS);
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** What a source is, in a word or two. */
export function sourceName(source: Source): string {
  switch (source.kind) {
    case "tone":
      if (source.cycle === "partials") return "Partials";
      return SHAPES[Math.round(source.shape)] ?? "Tone";
    case "wavetable": {
      const { table } = source;
      return written("name" in table && table.name ? table.name : "Wavetable");
    }
    case "noise":
      if (source.texture !== "even") return written(source.texture);
      return COLOURS[source.colour_db] ? `${COLOURS[source.colour_db]} noise` : "Noise";
    case "struck":
      return source.body === "string_loop" ? "String" : written(`struck ${source.body}`);
    case "sample":
      return source.recording ? written(source.name || "Sample") : "Sample";
  }
}

/** A name that no other layer has: with a number where it is taken. */
export function freshName(layers: readonly Layer[], name: string): string {
  const taken = new Set(layers.map((layer) => layer.name));
  let number = 1;
  let made = name;
  while (taken.has(made)) made = `${name} ${(number += 1)}`;
  return made;
}

const isNamedBySource = ({ name, source }: Layer): boolean => {
  const plain = sourceName(source);
  return (
    name === plain || (name.startsWith(`${plain} `) && /^ \d+$/.test(name.slice(plain.length)))
  );
};

/** Layers that are called what their source was are called what it is now. */
export function namedBySources(before: Sound, after: Sound): Sound {
  if (before.layers === after.layers) return after;
  const was = new Map(before.layers.map((layer) => [layer.id, layer]));
  let layers = after.layers;
  for (const now of after.layers) {
    const old = was.get(now.id);
    if (!old || old.source === now.source || old.name !== now.name || !isNamedBySource(old))
      continue;
    const name = sourceName(now.source);
    if (name === sourceName(old.source)) continue;
    const others = layers.filter(({ id }) => id !== now.id);
    const renamed = { ...now, name: freshName(others, name) };
    layers = layers.map((layer) => (layer.id === now.id ? renamed : layer));
  }
  return layers === after.layers ? after : { ...after, layers };
}
