import { cssColour, prepared } from "../../ui";
import { type Mark, sizeOf } from "./placing";

type Shape = "circle" | "square" | "rhomb" | "triangle";

/** A pigment and a shape for each category, so that neither is the only sign. */
const GLYPHS: Record<string, { colour: string; shape: Shape }> = {
  drum: { colour: "--rust", shape: "circle" },
  impact: { colour: "--ochre", shape: "square" },
  tonal: { colour: "--plum", shape: "rhomb" },
  machine: { colour: "--slate", shape: "triangle" },
  nature: { colour: "--moss", shape: "circle" },
  interface: { colour: "--teal", shape: "square" },
  movement: { colour: "--teal", shape: "triangle" },
  atmosphere: { colour: "--slate", shape: "rhomb" },
};
const PLAIN = { colour: "--ink-3", shape: "circle" } as const;

export const glyphOf = (category: string) => GLYPHS[category] ?? PLAIN;

/** The outline of a glyph around a place, ``r`` being half its size. */
export function glyphPath(shape: Shape, x: number, y: number, r: number): string {
  switch (shape) {
    case "circle":
      return `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`;
    case "square":
      return `M${x - r} ${y - r}h${2 * r}v${2 * r}h${-2 * r}z`;
    case "rhomb":
      return `M${x} ${y - 1.3 * r}l${1.3 * r} ${1.3 * r}l${-1.3 * r} ${1.3 * r}l${-1.3 * r} ${-1.3 * r}z`;
    case "triangle":
      return `M${x} ${y - 1.2 * r}l${1.2 * r} ${2.1 * r}h${-2.4 * r}z`;
  }
}

// From so many on, marks lie over each other.
const CROWDED = 3000;

interface Drawn {
  marks: Mark[];
  width: number;
  height: number;
  /** Those that a search finds; without one all are drawn alike. */
  found: Set<number> | null;
}

/** All marks of a map; a hundred thousand of them take a fraction of a second. */
export function drawMarks(canvas: HTMLCanvasElement, { marks, width, height, found }: Drawn) {
  const context = prepared(canvas, width, height);
  const ratio = context.getTransform().a;
  const crowded = marks.length > CROWDED;
  const stamps = new Map<string, Path2D>();
  const stampOf = (shape: Shape, size: number) => {
    const half = Math.round(2 * (crowded ? Math.min(6, size) : size)) / 4;
    const key = `${shape} ${half}`;
    const stamp = stamps.get(key) ?? new Path2D(glyphPath(shape, 0, 0, half));
    stamps.set(key, stamp);
    return stamp;
  };
  const draw = (part: Mark[], alpha: number) => {
    context.globalAlpha = alpha;
    for (const { x, y, category, lengthS } of part) {
      const { colour, shape } = glyphOf(category);
      context.fillStyle = colourOf(colour);
      context.setTransform(ratio, 0, 0, ratio, x * ratio, y * ratio);
      context.fill(stampOf(shape, sizeOf(lengthS)));
    }
  };
  const colours = new Map<string, string>();
  const colourOf = (name: string) => {
    const colour = colours.get(name) ?? cssColour(name);
    colours.set(name, colour);
    return colour;
  };
  const isFound = ({ id }: Mark) => found === null || found.has(id);
  // What is found lies over what is not; where many crowd, fainter marks still show it.
  draw(
    marks.filter((mark) => !isFound(mark)),
    0.12,
  );
  draw(marks.filter(isFound), crowded ? 0.4 : 0.72);
}
