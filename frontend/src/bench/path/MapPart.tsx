import type { Sound } from "../../api";
import { type Selection, select, useBench } from "../../sound";
import { PIGMENTS } from "../../ui";
import { dragSource } from "./dragging";
import { usePartDrop } from "./dropRoute";
import { shownLevel } from "./ProcessorCard";
import { NODE_HEIGHT, type MapNode } from "./mapLayout";
import { waysOf } from "./ways";

interface Props {
  sound: Sound;
  node: MapNode;
  inHand: boolean;
}

/** A layer, a bus or the main chain in the map: its name, level and how many processors it has. */
export function MapPart({ sound, node, inHand }: Props) {
  const { id } = node;
  const layer = sound.layers.find((one) => one.id === id);
  const bus = sound.buses.find((one) => one.id === id);
  const name = layer?.name ?? bus?.name ?? "Main";
  const level = useBench((state) => state.audition?.levels_db[id]);
  const { over, handlers } = usePartDrop(id, layer !== undefined);
  const muted = (layer ?? bus)?.mute === true;
  const chosen: Selection = layer
    ? { kind: "layer", id }
    : bus
      ? { kind: "bus", id }
      : { kind: "main" };
  const ways = waysOf(sound, id);
  const look = over
    ? "border-action bg-panel"
    : inHand
      ? "border-ink bg-ink text-sheet"
      : "border-line-strong bg-sheet hover:border-ink-3";
  return (
    <button
      type="button"
      {...(id === "main" ? {} : dragSource("route", id))}
      {...handlers}
      data-bus={bus?.id}
      aria-pressed={inHand}
      title={ways ? `${name}, ${ways}. Drag it to a bus to send it there.` : name}
      onClick={() => select(chosen)}
      className={`absolute flex items-center gap-1 rounded-control border px-1.5 text-left text-[11.5px] ${look} ${muted ? "opacity-55" : ""}`}
      style={{ left: node.x, top: node.y, width: node.width, height: NODE_HEIGHT }}
    >
      {layer && (
        <span
          aria-hidden
          className="text-[10px]"
          style={{ color: inHand ? undefined : PIGMENTS[layer.pigment].colour }}
        >
          {PIGMENTS[layer.pigment].glyph}
        </span>
      )}
      <span className={`min-w-0 flex-1 truncate ${muted ? "line-through" : ""}`}>{name}</span>
      <Pips switches={node.switches} />
      {layer && (
        <span className="figure shrink-0 text-[10px] opacity-80" title={shownLevel(level)}>
          {shownLevel(level).replace(" dB", "")}
        </span>
      )}
    </button>
  );
}

const MOST_PIPS = 5;

/** One mark a processor, hollow where it is off; a number where there are many. */
function Pips({ switches }: { switches: boolean[] }) {
  if (switches.length === 0) return null;
  const words = `${switches.length} ${switches.length === 1 ? "processor" : "processors"}`;
  return (
    <span className="inline-flex shrink-0 items-center gap-[2px]" title={words}>
      <span className="sr-only">{words}</span>
      {switches.length > MOST_PIPS ? (
        <span aria-hidden className="figure text-[10px]">
          {switches.length}
        </span>
      ) : (
        switches.map((on, n) => (
          <span
            key={n}
            aria-hidden
            className={`h-2.5 w-[3px] rounded-[1px] border border-current ${on ? "bg-current" : ""}`}
          />
        ))
      )}
    </span>
  );
}
