import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { allIds } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import type { LibraryItem, SampleItem } from "../../api/types";
import { usePlayer } from "../../audio/player";
import { useSize } from "../../ui/useSize";
import { SampleDetails } from "../details";
import { Hint } from "../EmptyList";
import { lengthText } from "../figures";
import { choose, isNarrowed, useSelection } from "../queryStore";
import { playSample } from "../SampleTable";

const MARGIN = 28;
const GLYPHS: Record<
  string,
  { colour: string; shape: "circle" | "square" | "rhomb" | "triangle" }
> = {
  drum: { colour: "var(--rust)", shape: "circle" },
  impact: { colour: "var(--ochre)", shape: "square" },
  tonal: { colour: "var(--plum)", shape: "rhomb" },
  machine: { colour: "var(--slate)", shape: "triangle" },
  nature: { colour: "var(--moss)", shape: "circle" },
  interface: { colour: "var(--teal)", shape: "square" },
  movement: { colour: "var(--teal)", shape: "triangle" },
  atmosphere: { colour: "var(--slate)", shape: "rhomb" },
};
const PLAIN = { colour: "var(--ink-3)", shape: "circle" as const };

/** A library as a map on which near means alike; moving over it plays. */
export function MapView({ library }: { library: LibraryItem }) {
  const { query, chosenId } = useSelection();
  const playing = usePlayer((state) => state.key);
  const { ref: frame, width, height } = useSize<HTMLDivElement>();
  const [over, setOver] = useState<number | null>(null);
  const path = { library_id: library.id };
  const map = useQuery({
    queryKey: ["samples", "map", library.id],
    queryFn: () => answered(api.GET("/api/libraries/{library_id}/map", { params: { path } })),
  });
  const ids = useMemo(() => map.data?.ids ?? [], [map.data]);
  const samples = useQuery({
    queryKey: ["samples", "listed", ids],
    enabled: ids.length > 0,
    queryFn: async () =>
      (await answered(api.POST("/api/samples/listed", { body: { ids: ids.slice(0, 5000) } })))
        .samples,
  });
  const within = { ...query, libraries: [library.id] };
  const found = useQuery({
    queryKey: ["samples", "found", within],
    queryFn: () => allIds(within),
    enabled: isNarrowed(query),
  });
  const places = useMemo(
    () =>
      (samples.data ?? []).map((sample, n) => ({
        sample,
        x: MARGIN + (map.data?.x[n] ?? 0) * (width - 2 * MARGIN),
        y: MARGIN + (map.data?.y[n] ?? 0) * (height - 2 * MARGIN),
      })),
    [samples.data, map.data, width, height],
  );
  useEffect(() => {
    if (over === null) return;
    // A glance over many is no wish to hear them all.
    const timer = setTimeout(() => {
      const sample = places.find((one) => one.sample.id === over)?.sample;
      if (sample) playSample(sample);
    }, 60);
    return () => clearTimeout(timer);
  }, [over, places]);
  const chosen = places.find(({ sample }) => sample.id === chosenId)?.sample;
  const nearestTo = (event: React.PointerEvent): SampleItem | undefined => {
    const box = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    const far = (one: (typeof places)[number]) => Math.hypot(one.x - x, one.y - y);
    const nearest = [...places].sort((a, b) => far(a) - far(b))[0];
    return nearest && far(nearest) < 40 ? nearest.sample : undefined;
  };
  const step = (event: React.KeyboardEvent) => {
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    const from = places.find(({ sample }) => sample.id === chosenId) ?? places[0];
    if (!from) return;
    const ahead = places
      .map((one) => ({ ...one, dx: one.x - from.x, dy: one.y - from.y }))
      .map((one) => ({ ...one, along: one.dx * way[0] + one.dy * way[1] }))
      .filter((one) => one.along > 2)
      .sort((a, b) => costOf(a) - costOf(b))[0];
    if (!ahead) return;
    choose(ahead.sample.id);
    playSample(ahead.sample);
  };
  if (map.data?.ids.length === 0)
    return <Hint words="Nothing to map yet: this library holds no samples." />;
  const shown = places.find(({ sample }) => sample.id === (over ?? chosenId));
  return (
    <div className="flex min-h-0 flex-1">
      <div
        ref={frame}
        role="application"
        aria-label="Map of the library: near means alike. Arrow keys move and play."
        tabIndex={0}
        onKeyDown={step}
        onPointerMove={(event) => setOver(nearestTo(event)?.id ?? null)}
        onPointerLeave={() => setOver(null)}
        onPointerDown={(event) => {
          const sample = nearestTo(event);
          if (!sample) return;
          choose(sample.id);
          playSample(sample);
        }}
        className="relative min-w-0 flex-1 overflow-hidden"
      >
        <svg width={width} height={height} aria-hidden>
          {places.map(({ sample, x, y }) => (
            <Mark
              key={sample.id}
              x={x}
              y={y}
              category={sample.category}
              size={4 + 2.2 * Math.log2(1 + 4 * Math.min(8, sample.length_s))}
              faint={found.data !== undefined && !found.data.includes(sample.id)}
              strong={sample.id === chosenId || playing === `sample-${sample.id}`}
            />
          ))}
          {shown && (
            <text
              x={Math.min(width - 180, shown.x + 12)}
              y={Math.max(16, shown.y - 10)}
              fontSize={12.5}
              fontWeight={600}
              fill="var(--ink)"
              stroke="var(--sheet)"
              strokeWidth={4}
              paintOrder="stroke"
            >
              {shown.sample.name} · {lengthText(shown.sample.length_s)}
            </text>
          )}
        </svg>
        <p className="absolute bottom-2 left-3 text-[12px] text-ink-2">
          Near means alike, large means long. Move over it to hear.
        </p>
        <ul className="absolute top-2 right-3 grid gap-0.5 text-[12px] text-ink-2" aria-hidden>
          {[...new Set(places.map(({ sample }) => sample.category))].sort().map((category) => (
            <li key={category} className="flex items-center justify-end gap-1.5">
              {category || "none"}
              <svg width={14} height={14}>
                <Mark x={7} y={7} size={9} category={category} faint={false} strong={false} />
              </svg>
            </li>
          ))}
        </ul>
      </div>
      {chosen && <SampleDetails key={chosen.id} sample={chosen} library={library} />}
    </div>
  );
}

/** What lies straight ahead and near comes first. */
const costOf = ({ dx, dy, along }: { dx: number; dy: number; along: number }) =>
  Math.hypot(dx, dy) * (1 + (2 * (Math.hypot(dx, dy) - along)) / Math.max(1, along));

interface MarkProps {
  x: number;
  y: number;
  size: number;
  category: string;
  faint: boolean;
  strong: boolean;
}

function Mark({ x, y, size, category, faint, strong }: MarkProps) {
  const { colour, shape } = GLYPHS[category] ?? PLAIN;
  const r = size / 2 + (strong ? 3 : 0);
  const look = {
    fill: colour,
    opacity: faint ? 0.15 : strong ? 1 : 0.72,
    stroke: strong ? "var(--ink)" : "none",
    strokeWidth: 2,
  };
  if (shape === "circle") return <circle cx={x} cy={y} r={r} {...look} />;
  const paths = {
    square: `M${x - r} ${y - r}h${2 * r}v${2 * r}h${-2 * r}z`,
    rhomb: `M${x} ${y - 1.3 * r}l${1.3 * r} ${1.3 * r}l${-1.3 * r} ${1.3 * r}l${-1.3 * r} ${-1.3 * r}z`,
    triangle: `M${x} ${y - 1.2 * r}l${1.2 * r} ${2.1 * r}h${-2.4 * r}z`,
  };
  return <path d={paths[shape]} {...look} />;
}
