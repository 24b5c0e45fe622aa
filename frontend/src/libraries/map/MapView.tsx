import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { allIds, oneSample, resultOf, api, type LibraryItem } from "../../api";
import { usePlayer } from "../../audio";
import { useTheme, useSize, Waiting } from "../../ui";
import { SampleDetails } from "../details";
import {
  DetailsDrawer,
  Hint,
  lengthText,
  choose,
  isNarrowed,
  useSelection,
  useSettledQuery,
} from "../common";
import { drawMarks, glyphOf, glyphPath } from "./drawing";
import { finder, labelPlace, marksOf, nextMark, sizeOf, WAYS } from "./placing";
import { usePlayPointed } from "./usePlayPointed";

// So few that each can be ringed, where otherwise a small one is overlooked.
const FEW = 60;

/** A library as a map on which near means alike; moving over it plays. */
export function MapView({ library }: { library: LibraryItem }) {
  const chosenId = useSelection((state) => state.chosenId);
  const query = useSettledQuery(useSelection((state) => state.query));
  const theme = useTheme((state) => state.theme);
  const playing = usePlayer((state) => state.key);
  const { ref: frame, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [over, setOver] = useState<number | null>(null);
  const map = useQuery({
    queryKey: ["samples", "map", library.id],
    queryFn: () =>
      resultOf(
        api.GET("/api/libraries/{library_id}/map", {
          params: { path: { library_id: library.id } },
        }),
      ),
  }).data;
  const within = { ...query, libraries: [library.id] };
  const foundIds = useQuery({
    queryKey: ["samples", "found", within],
    queryFn: () => allIds(within),
    enabled: isNarrowed(query),
    placeholderData: keepPreviousData,
  }).data;
  const marks = useMemo(() => (map ? marksOf(map, width, height) : []), [map, width, height]);
  const find = useMemo(() => finder(marks), [marks]);
  const found = useMemo(
    () => (foundIds && isNarrowed(query) ? new Set(foundIds) : null),
    [foundIds, query],
  );
  useEffect(() => {
    if (canvas.current && width > 0) drawMarks(canvas.current, { marks, width, height, found });
    // The pigments are those of the theme.
  }, [marks, width, height, found, theme]);
  const foundMarks = useMemo(
    () => (found ? marks.filter(({ id }) => found.has(id)) : marks),
    [marks, found],
  );
  const { play } = usePlayPointed(over);
  const shownId = over ?? chosenId;
  const shown = useQuery({
    ...oneSample(shownId),
    enabled: shownId !== null,
    placeholderData: keepPreviousData,
  }).data;
  const chosen = useQuery({ ...oneSample(chosenId), enabled: chosenId !== null }).data;
  const markOf = (id: number | null) => marks.find((mark) => mark.id === id);
  const take = (id: number) => {
    choose(id);
    play(id);
  };
  const pointedAt = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return find(event.clientX - box.left, event.clientY - box.top)?.id ?? null;
  };
  const step = (event: React.KeyboardEvent) => {
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    // Among what is found, wherever one is.
    const from = markOf(chosenId);
    const next = from ? nextMark(foundMarks, from, way) : foundMarks[0];
    if (next) take(next.id);
  };
  if (map?.ids.length === 0)
    return <Hint words="Nothing to map yet: this library has no samples." />;
  const label = shown && shown.id === shownId ? markOf(shownId) : undefined;
  const words = shown ? `${shown.name} · ${lengthText(shown.length_s)}` : "";
  const ringed = found !== null && found.size <= FEW ? foundMarks : [];
  const place = label && labelPlace(label, 7 * words.length, { others: ringed, width });
  const strong = marks.filter(({ id }) => id === chosenId || playing === `sample-${id}`);
  return (
    <div className="flex min-h-0 flex-1">
      <div
        ref={frame}
        role="application"
        aria-label="Map of the library: near means alike. Arrow keys move and play."
        tabIndex={0}
        onKeyDown={step}
        onPointerMove={(event) => setOver(pointedAt(event))}
        onPointerLeave={() => setOver(null)}
        onPointerDown={(event) => {
          const id = pointedAt(event);
          if (id !== null) take(id);
        }}
        className="relative min-w-0 flex-1 overflow-hidden"
      >
        <canvas ref={canvas} aria-hidden className="absolute inset-0 size-full" />
        <svg width={width} height={height} aria-hidden className="absolute inset-0">
          {ringed
            // What is chosen or plays has an outline of its own.
            .filter((mark) => !strong.includes(mark))
            .map(({ id, x, y, lengthS }) => (
              <circle
                key={id}
                cx={x}
                cy={y}
                r={sizeOf(lengthS) / 2 + 5}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.25}
              />
            ))}
          {strong.map(({ id, x, y, category, lengthS }) => (
            <path
              key={id}
              data-sample={id}
              d={glyphPath(glyphOf(category).shape, x, y, sizeOf(lengthS) / 2 + 3)}
              fill={`var(${glyphOf(category).colour})`}
              stroke="var(--ink)"
              strokeWidth={2}
            />
          ))}
          {place && (
            <text
              x={place.x}
              y={place.y}
              fontSize={12.5}
              fontWeight={600}
              fill="var(--ink)"
              stroke="var(--sheet)"
              strokeWidth={4}
              paintOrder="stroke"
            >
              {words}
            </text>
          )}
        </svg>
        <p className="absolute bottom-2 left-3 text-[12px] text-ink-2">
          Close means similar, large means long. Hover to hear.
          {found !== null && foundMarks.length < marks.length && (
            <b className="ml-1.5 text-ink" role="status">
              {foundMarks.length} of {marks.length} found
            </b>
          )}
        </p>
        {map ? <Legend categories={map.categories} /> : <Waiting words="Computing the map" />}
      </div>
      {chosen && (
        <DetailsDrawer name={chosen.name}>
          <SampleDetails key={chosen.id} sample={chosen} library={library} />
        </DetailsDrawer>
      )}
    </div>
  );
}

function Legend({ categories }: { categories: string[] }) {
  return (
    <ul className="absolute top-2 right-3 grid gap-0.5 text-[12px] text-ink-2" aria-hidden>
      {categories.map((category) => (
        <li key={category} className="flex items-center justify-end gap-1.5">
          {category || "none"}
          <svg width={14} height={14}>
            <path
              d={glyphPath(glyphOf(category).shape, 7, 7, 4.5)}
              fill={`var(${glyphOf(category).colour})`}
              opacity={0.72}
            />
          </svg>
        </li>
      ))}
    </ul>
  );
}
