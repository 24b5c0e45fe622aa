import type { Bus, Layer, Processor, Send, Sound } from "../../api";
import { branchesOf, ownerOf } from "../../sound";

/** Where the parts of a path stand in its map, in pixels; drawing knows nothing of the sound. */

export interface MapNode {
  id: string;
  x: number;
  y: number;
  width: number;
  /** Whether each of its processors is on, those in branches too. */
  switches: boolean[];
}

export interface MapEdge {
  key: string;
  /** The part that it begins at, by whose colour it is drawn. */
  from: string;
  to: string;
  kind: "route" | "send";
  path: string;
}

export interface PathMap {
  width: number;
  height: number;
  nodes: MapNode[];
  edges: MapEdge[];
}

export const NODE_HEIGHT = 24;
const GAP = 4;
const LAYER_WIDTH = 132;
const BUS_WIDTH = 92;
const MAIN_WIDTH = 72;
const BETWEEN = 32;
/** From the main chain to the map's edge, behind which the output stands. */
const TO_OUTPUT = 20;

/** From one part to the one below it. */
export const ROW_HEIGHT = NODE_HEIGHT + GAP;

/** Every processor of a chain, with those in its branches. */
const switchesOf = (chain: readonly Processor[]): boolean[] =>
  chain.flatMap((part) => [part.on, ...branchesOf(part).flatMap((one) => switchesOf(one.chain))]);

/** How many buses lie before each on the longest way to it: the column that it stands in. */
export function busColumns(sound: Sound): Map<string, number> {
  const columns = new Map(sound.buses.map(({ id }) => [id, 0]));
  const leads: [string, string][] = [
    ...sound.buses.map(({ id, to }): [string, string] => [id, to]),
    ...sound.sends
      .filter(({ on }) => on)
      .map((one): [string, string] => [ownerOf(sound, one.source), one.to]),
  ].filter(([from, to]) => columns.has(from) && columns.has(to));
  // No way is longer than there are buses.
  for (let n = 0; n < sound.buses.length; n += 1)
    for (const [from, to] of leads)
      columns.set(to, Math.max(columns.get(to) ?? 0, (columns.get(from) ?? 0) + 1));
  return columns;
}

/** Heights wished for, moved apart so that each has its room, and kept from leaving the map. */
export function spread(wishes: number[], most: number): number[] {
  const order = wishes
    .map((_, n) => n)
    .sort((a, b) => (wishes[a] ?? 0) - (wishes[b] ?? 0) || a - b);
  const placed = [...wishes];
  let lowest = 0;
  for (const n of order) {
    placed[n] = Math.max(lowest, placed[n] ?? 0);
    lowest = (placed[n] ?? 0) + ROW_HEIGHT;
  }
  let highest = Math.max(most, (wishes.length - 1) * ROW_HEIGHT);
  for (const n of order.toReversed()) {
    placed[n] = Math.min(highest, placed[n] ?? 0);
    highest = (placed[n] ?? 0) - ROW_HEIGHT;
  }
  return placed;
}

function curve(fromX: number, fromY: number, toX: number, toY: number): string {
  const bend = Math.max(16, (toX - fromX) / 2);
  return `M${fromX} ${fromY} C${fromX + bend} ${fromY} ${toX - bend} ${toY} ${toX} ${toY}`;
}

export function mapLayout(sound: Sound): PathMap {
  const columns = busColumns(sound);
  const depth = sound.buses.length > 0 ? Math.max(...columns.values()) + 1 : 0;
  const layers = sound.layers.map((layer: Layer, n): MapNode => ({
    id: layer.id,
    x: 0,
    y: n * ROW_HEIGHT,
    width: LAYER_WIDTH,
    switches: switchesOf(layer.chain),
  }));
  const most = Math.max(layers.length - 1, 0) * ROW_HEIGHT;
  const nodes = new Map(layers.map((node) => [node.id, node]));
  for (let column = 0; column < depth; column += 1) {
    const here = sound.buses.filter(({ id }) => columns.get(id) === column);
    const heights = spread(
      here.map((bus) => middleOf(comingFrom(sound, bus.id), nodes, most / 2)),
      most,
    );
    here.forEach((bus: Bus, n) =>
      nodes.set(bus.id, {
        id: bus.id,
        x: LAYER_WIDTH + BETWEEN + column * (BUS_WIDTH + BETWEEN),
        y: heights[n] ?? 0,
        width: BUS_WIDTH,
        switches: [...switchesOf(bus.low_chain), ...switchesOf(bus.chain)],
      }),
    );
  }
  const mainX = LAYER_WIDTH + BETWEEN + depth * (BUS_WIDTH + BETWEEN);
  nodes.set("main", {
    id: "main",
    x: mainX,
    y: middleOf(comingFrom(sound, "main"), nodes, most / 2),
    width: MAIN_WIDTH,
    switches: switchesOf(sound.main.chain),
  });
  const all = [...nodes.values()];
  const width = mainX + MAIN_WIDTH + TO_OUTPUT;
  const height = Math.max(...all.map(({ y }) => y)) + NODE_HEIGHT;
  return { width, height, nodes: all, edges: edgesOf(sound, nodes, width, height) };
}

/** The layers and buses whose own way leads to a place. */
const comingFrom = (sound: Sound, id: string): string[] =>
  [...sound.layers, ...sound.buses].filter(({ to }) => to === id).map((one) => one.id);

function middleOf(ids: string[], nodes: Map<string, MapNode>, otherwise: number): number {
  const heights = ids.flatMap((id) => nodes.get(id)?.y ?? []);
  return heights.length > 0 ? heights.reduce((sum, y) => sum + y, 0) / heights.length : otherwise;
}

function edgesOf(
  sound: Sound,
  nodes: Map<string, MapNode>,
  width: number,
  height: number,
): MapEdge[] {
  const middle = NODE_HEIGHT / 2;
  const edge = (key: string, from: string, to: string, kind: MapEdge["kind"]): MapEdge[] => {
    const start = nodes.get(from);
    const end = nodes.get(to);
    if (!start || (!end && to !== "output")) return [];
    const x = start.x + start.width;
    const y = start.y + middle;
    // Past the main chain a way runs along the map's foot to the output.
    const path = end
      ? curve(x, y, end.x, end.y + middle)
      : from === "main"
        ? `M${x} ${y} H${width}`
        : curve(x, y, width, height - 2);
    return [{ key, from, to, kind, path }];
  };
  const routes = [...sound.layers, ...sound.buses].flatMap(({ id, to }) =>
    edge(`${id}>${to}`, id, to, "route"),
  );
  const sends = sound.sends
    .filter((one: Send) => one.on)
    .flatMap(({ id, source, to }) => edge(id, ownerOf(sound, source), to, "send"));
  return [...routes, ...sends, ...edge("main>output", "main", "output", "route")];
}
