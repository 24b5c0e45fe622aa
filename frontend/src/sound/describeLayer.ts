import type { Layer } from "../api";
import { formatValue } from "../ui";

const SHAPES = ["sine", "triangle", "sawtooth", "pulse"];

/** A layer's source in a few words. */
export function describeLayer(layer: Layer): string {
  switch (layer.source.kind) {
    case "wavetable": {
      const { table, unison } = layer.source;
      const name = "name" in table && table.name ? table.name : table.origin;
      return `wavetable · ${name.replace(/-/g, " ")}${unison.voices > 1 ? ` × ${unison.voices}` : ""}`;
    }
    case "struck":
      return `struck · ${layer.source.body.replace(/_/g, " ")}`;
    case "sample":
      return `sample · ${layer.source.recording ? layer.source.name || "unnamed" : "none"}`;
    case "tone": {
      const { shape, cycle, unison } = layer.source;
      const name = SHAPES[Math.round(shape)] ?? "";
      const kind =
        cycle === "partials" ? "partials" : Number.isInteger(shape) ? name : `near ${name}`;
      return `tone · ${kind}${unison.voices > 1 ? ` × ${unison.voices}` : ""}`;
    }
    case "noise": {
      const { texture, colour_db } = layer.source;
      if (texture !== "even") return `noise · ${texture}`;
      return `noise · ${colour_db === 0 ? "white" : formatValue(colour_db, "dB") + "/oct"}`;
    }
  }
}
