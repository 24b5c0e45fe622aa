import { Plus } from "lucide-react";
import { useMemo } from "react";
import type { Sound } from "../../api";
import { useBench } from "../../sound";
import { PIGMENTS } from "../../ui";
import { addBus, canAddBus } from "./RouteMenu";
import { MapPart } from "./MapPart";
import { mapLayout, type MapEdge } from "./mapLayout";

/** All that flows, small: layers, buses and the main chain, with their ways and sends. */
export function PathMap({ sound, inHand }: { sound: Sound; inHand: string }) {
  const map = useMemo(() => mapLayout(sound), [sound]);
  return (
    <div
      role="group"
      aria-label="Map of the path"
      className="relative flex max-w-[46%] min-h-0 min-w-0 shrink-0 border-r border-line-strong"
    >
      <div className="min-h-0 min-w-0 overflow-auto p-2">
        <div className="relative" style={{ width: map.width, height: map.height }}>
          <svg
            aria-hidden
            width={map.width}
            height={map.height}
            className="pointer-events-none absolute inset-0"
          >
            {map.edges.map((edge) => (
              <Way key={edge.key} edge={edge} sound={sound} inHand={inHand} />
            ))}
          </svg>
          {map.nodes.map((node) => (
            <MapPart key={node.id} sound={sound} node={node} inHand={node.id === inHand} />
          ))}
        </div>
      </div>
      <button
        type="button"
        title="Add a bus: its layers share one chain"
        aria-label="Add bus"
        disabled={!canAddBus(sound)}
        className="absolute right-1.5 bottom-1.5 inline-flex min-h-6 items-center gap-1 rounded-sm border border-line-strong bg-band px-1.5 text-[11.5px] text-action hover:bg-panel disabled:opacity-40"
        onClick={() => addBus(sound)}
      >
        <Plus size={12} aria-hidden /> bus
      </button>
    </div>
  );
}

function Way({ edge, sound, inHand }: { edge: MapEdge; sound: Sound; inHand: string }) {
  const layer = sound.layers.find(({ id }) => id === edge.from);
  const near = edge.from === inHand || edge.to === inHand;
  const silent = useBench((state) => (state.audition?.levels_db[edge.from] ?? 0) <= -120);
  return (
    <path
      d={edge.path}
      fill="none"
      stroke={layer ? PIGMENTS[layer.pigment].colour : "var(--ink-2)"}
      strokeWidth={near ? 2.5 : 1.25}
      strokeOpacity={silent ? 0.25 : near ? 1 : 0.55}
      strokeDasharray={edge.kind === "send" ? "4 3" : undefined}
    />
  );
}
