import { useRef, useState } from "react";
import { TRYOUT_DEFAULTS, type TryOutPart } from "../api";
import { choose, editTryOut, useTryOut } from "../loop";
import { formatValue, type TimeScale } from "../ui";
import { placeAt, shifted, withHit, withHits, withPart } from "./edits";
import { gridBeats, useTryOutRuler } from "./rulerStore";

/** A hit is taken by its beginning. */
const GRIP_PIXELS = 8;
const VELOCITY_A_PIXEL = 1.2;
const NONE: number[] = [];

interface Drag {
  x: number;
  y: number;
  hits: number[];
  copies: boolean;
  moved: boolean;
  before: TryOutPart;
  band: boolean;
}

/** Hits added, chosen, moved and copied by hand. */
export function useHitGestures(part: TryOutPart, scale: TimeScale) {
  const drag = useRef<Drag | null>(null);
  const [words, setWords] = useState("");
  const [band, setBand] = useState<{ from: number; to: number } | null>(null);
  const xIn = (event: React.MouseEvent) =>
    event.clientX - event.currentTarget.getBoundingClientRect().left;
  const hitAt = (x: number) => {
    const near = part.hits
      .map((hit, n) => ({ n, away: x - scale.x(hit.at_s + part.offset_s) }))
      .filter(({ away }) => away > -GRIP_PIXELS && away < 2 * GRIP_PIXELS)
      .sort((a, b) => Math.abs(a.away) - Math.abs(b.away));
    return near[0]?.n ?? null;
  };
  const chosenNow = () => {
    const { chosen } = useTryOut.getState();
    return chosen.kind === "hits" && chosen.part === part.id ? chosen.hits : NONE;
  };
  const handlers = {
    onPointerDown: (event: React.PointerEvent<HTMLDivElement>) => {
      if (event.button !== 0 || part.plays.kind === "bed") return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const x = xIn(event);
      const found = hitAt(x);
      const now = chosenNow();
      if (found === null) {
        drag.current = start(event, [], false, part, true);
        if (!event.shiftKey) choose({ kind: "part", part: part.id });
        return;
      }
      const toggled = now.includes(found) ? now.filter((n) => n !== found) : [...now, found];
      const hits = event.shiftKey ? toggled : now.includes(found) ? now : [found];
      choose({ kind: "hits", part: part.id, hits });
      useTryOutRuler.setState({ leaf: "Hit" });
      drag.current = start(event, hits, event.altKey, part, false);
    },
    onPointerMove: (event: React.PointerEvent<HTMLDivElement>) => {
      const now = drag.current;
      const x = xIn(event);
      if (!now) {
        setWords(wordsAt(scale.time(x)));
        return;
      }
      if (now.band) {
        const from = now.x - event.currentTarget.getBoundingClientRect().left;
        setBand({ from: Math.min(from, x), to: Math.max(from, x) });
        return;
      }
      if (Math.abs(event.clientX - now.x) + Math.abs(event.clientY - now.y) < 3 && !now.moved)
        return;
      now.moved = true;
      setWords(moveHits(now, event, scale));
    },
    onPointerUp: (event: React.PointerEvent<HTMLDivElement>) => {
      const now = drag.current;
      drag.current = null;
      setBand(null);
      if (!now) return;
      if (now.band) {
        const left = event.currentTarget.getBoundingClientRect().left;
        const [from, to] = [now.x - left, event.clientX - left].sort((a, b) => a - b);
        if (from === undefined || to === undefined || to - from < 4) return;
        const within = part.hits.flatMap((hit, n) => {
          const x = scale.x(hit.at_s + part.offset_s);
          return x >= from && x <= to ? [n] : [];
        });
        if (within.length > 0) choose({ kind: "hits", part: part.id, hits: within });
      } else if (now.moved) {
        moveHits(now, event, scale, true);
      }
    },
    onPointerLeave: () => setWords(""),
    onDoubleClick: (event: React.MouseEvent<HTMLDivElement>) => {
      if (part.plays.kind === "bed") return;
      const x = xIn(event);
      if (hitAt(x) !== null) return;
      let place = -1;
      editTryOut(`${part.name}: hit added`, (now) => {
        const hit = { ...TRYOUT_DEFAULTS.hit, ...placeAt(now, scale.time(x), gridBeats()) };
        const made = withHit(now, part.id, hit);
        place = made.place;
        return made.document;
      });
      if (place >= 0) choose({ kind: "hits", part: part.id, hits: [place] });
      useTryOutRuler.setState({ leaf: "Hit" });
    },
  };
  return { handlers, words, band };
}

const start = (
  { clientX, clientY }: React.PointerEvent,
  hits: number[],
  copies: boolean,
  before: TryOutPart,
  band: boolean,
): Drag => ({ x: clientX, y: clientY, hits, copies, moved: false, before, band });

function wordsAt(timeS: number): string {
  const { document } = useTryOut.getState();
  const { unit } = useTryOutRuler.getState();
  if (!document) return "";
  if (unit === "time") return formatValue(Math.max(0, timeS), "s");
  const beats = Math.max(0, (timeS * document.tempo_bpm) / 60);
  const bar = Math.floor(beats / document.beats_a_bar);
  return `${bar + 1}.${(beats - bar * document.beats_a_bar + 1).toFixed(2)}`;
}

/** Hits follow the hand: sideways in time, by the grid unless Ctrl is held; up and down in velocity. */
function moveHits(drag: Drag, event: React.PointerEvent, scale: TimeScale, ends = false): string {
  const { document } = useTryOut.getState();
  const first = drag.before.hits[drag.hits[0] ?? 0];
  if (!document || !first) return "";
  const sideways = Math.abs(event.clientX - drag.x) > 3;
  const upwards = Math.abs(event.clientY - drag.y) > 6 && !event.shiftKey;
  const grid = event.ctrlKey ? null : gridBeats();
  const byS = sideways ? scale.time(scale.x(0) + event.clientX - drag.x) : 0;
  const target = placeAt(document, first.at_s + byS, grid).at_s;
  const shiftS = sideways ? target - first.at_s : 0;
  const louder = upwards ? Math.round((drag.y - event.clientY) * VELOCITY_A_PIXEL) : 0;
  const change = (now: typeof document, hit: typeof first) => ({
    ...shifted(now, hit, shiftS),
    velocity: Math.max(1, Math.min(127, hit.velocity + louder)),
  });
  const label = drag.copies ? "hits copied" : "hits moved";
  editTryOut(
    `${drag.before.name}: ${label}`,
    (now) => {
      const clean = withPart(now, drag.before.id, (one) => ({ ...one, hits: drag.before.hits }));
      if (!drag.copies)
        return withHits(clean, drag.before.id, drag.hits, (hit) => change(now, hit));
      const copies = drag.before.hits
        .filter((_, n) => drag.hits.includes(n))
        .map((hit) => change(now, hit));
      return withPart(clean, drag.before.id, (one) => ({ ...one, hits: [...one.hits, ...copies] }));
    },
    { gesture: `move ${drag.before.id} ${drag.x}`, moving: !ends },
  );
  return `${wordsAt(first.at_s + shiftS)}  velocity ${Math.max(1, Math.min(127, first.velocity + louder))}`;
}
