import { useEffect, useMemo, useRef } from "react";
import type { ComparedAnswer } from "../api";
import { cssColour, drawAlong, prepared, signedBytesOf, useTheme, type TimeScale } from "../ui";
import { lettersOf } from "./letters";
import { useCompare } from "./store";
import { bandText, boundedDb } from "./words";

interface Props {
  compared: ComparedAnswer;
  place: number;
  scale: TimeScale;
  height: number;
}

/** A colour as red, green, blue. */
function channelsOf(colour: string): [number, number, number] {
  const value = Number.parseInt(colour.replace("#", ""), 16);
  return [(value >> 16) & 255, (value >> 8) & 255, value & 255];
}

/** Bands by steps as an image: what is stronger in A in its colour, what is in the other in its. */
function mapImage(compared: ComparedAnswer, place: number): HTMLCanvasElement {
  const pair = compared.pairs[place - 1];
  const canvas = document.createElement("canvas");
  const { bands = 1, steps = 1 } = compared.sides[0]?.levels ?? {};
  canvas.width = steps;
  canvas.height = bands;
  const context = canvas.getContext("2d");
  if (!context || !pair) return canvas;
  const apart = signedBytesOf(pair.apart.data);
  const image = context.createImageData(steps, bands);
  const colours = [0, place].map((n) => channelsOf(cssColour(lettersOf(n).colour.slice(4, -1))));
  for (let band = 0; band < bands; band++) {
    for (let step = 0; step < steps; step++) {
      const value = apart[band * steps + step] ?? 0;
      const [r, g, b] = colours[value < 0 ? 0 : 1] ?? [0, 0, 0];
      // Half of the range is full colour: 15 dB are plainly heard.
      const strength = Math.min(255, Math.round(Math.abs(value) * 4));
      image.data.set([r, g, b, strength], ((bands - 1 - band) * steps + step) * 4);
    }
  }
  context.putImageData(image, 0, 0);
  return canvas;
}

export function DifferenceMap({ compared, place, scale, height }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  // Colours are read from the page, which changes them with the theme.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const image = useMemo(() => mapImage(compared, place), [compared, place, theme]);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, height);
    context.imageSmoothingEnabled = false;
    drawAlong(context, image, { scale, lengthS: mapLength(compared), height });
  }, [image, compared, scale, height]);
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Where ${lettersOf(place).letter} differs from A, by band and time`}
        className="pointer-events-none absolute inset-0"
        style={{ width: scale.width, height }}
      />
      <Edges edges={compared.edges_hz} height={height} />
      <Pointed compared={compared} place={place} />
    </>
  );
}

/** Steps are whole, so the map may be a little longer than the sound. */
const mapLength = (compared: ComparedAnswer) =>
  (compared.sides[0]?.levels.steps ?? 1) * compared.step_s;

const SHOWN_HZ = [100, 1000, 4000];

function Edges({ edges, height }: { edges: readonly number[]; height: number }) {
  const bands = edges.length - 1;
  return SHOWN_HZ.map((hz) => {
    const band = edges.indexOf(hz);
    if (band < 0) return null;
    return (
      <span
        key={hz}
        className="figure pointer-events-none absolute right-1 rounded-sm bg-sheet px-0.5 text-[10px] text-ink-2"
        style={{ top: height - (band / bands) * height - 7 }}
      >
        {hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`}
      </span>
    );
  });
}

/** The largest difference at the moment that is pointed at. */
function Pointed({ compared, place }: { compared: ComparedAnswer; place: number }) {
  const pointed = useCompare((state) => state.pointedAtS);
  const pair = compared.pairs[place - 1];
  const apart = useMemo(() => signedBytesOf(pair?.apart.data ?? ""), [pair]);
  if (pointed === null || !pair) return null;
  const { bands = 0, steps = 0 } = compared.sides[0]?.levels ?? {};
  const step = Math.min(steps - 1, Math.floor(pointed / compared.step_s));
  let most = 0;
  let at = 0;
  for (let band = 0; band < bands; band++) {
    const value = apart[band * steps + step] ?? 0;
    if (Math.abs(value) > Math.abs(most)) [most, at] = [value, band];
  }
  if (most === 0) return null;
  const db = (most / 127) * pair.apart.most_db;
  return (
    <p className="figure pointer-events-none absolute bottom-1 left-2 rounded-sm bg-sheet px-1 text-[11px]">
      {bandText(compared.edges_hz[at] ?? 0, compared.edges_hz[at + 1] ?? 0)}:{" "}
      {boundedDb(Math.round(db * 10) / 10, pair.apart.most_db)}
    </p>
  );
}
