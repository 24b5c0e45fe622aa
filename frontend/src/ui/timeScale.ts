/** The one ruler: which stretch of time is shown, and where each moment lies on screen. */
export interface TimeView {
  startS: number;
  endS: number;
}

/** Even, or stretched at the start, where hits live in their first 50 ms. */
export type TimeShape = "even" | "stretched";

export interface TimeScale extends TimeView {
  width: number;
  shape: TimeShape;
  x(timeS: number): number;
  time(x: number): number;
}

export const SHORTEST_VIEW_S = 0.005;
export const LONGEST_VIEW_S = 61;

/** Room left of the start, so that what stands at 0 is seen whole. */
const START_PIXELS = 7;

/** Below about this time a stretched ruler is even, above it ever denser. */
const KNEE_S = 0.02;

const WARPS: Record<TimeShape, { warp(timeS: number): number; unwarp(place: number): number }> = {
  even: { warp: (timeS) => timeS, unwarp: (place) => place },
  stretched: {
    warp: (timeS) => (timeS < 0 ? timeS / KNEE_S : Math.log1p(timeS / KNEE_S)),
    unwarp: (place) => (place < 0 ? place * KNEE_S : KNEE_S * Math.expm1(place)),
  },
};

export function timeScale(
  { startS, endS }: TimeView,
  width: number,
  shape: TimeShape = "even",
): TimeScale {
  const { warp, unwarp } = WARPS[shape];
  const from = warp(startS);
  const span = warp(endS) - from;
  const room = width - START_PIXELS;
  return {
    startS,
    endS,
    width,
    shape,
    x: (timeS) => START_PIXELS + ((warp(timeS) - from) / span) * room,
    time: (x) => unwarp(from + ((x - START_PIXELS) / Math.max(1, room)) * span),
  };
}

/** A view of the same span kept within what can be shown. */
export function boundedView({ startS, endS }: TimeView): TimeView {
  const span = Math.min(LONGEST_VIEW_S, Math.max(SHORTEST_VIEW_S, endS - startS));
  const start = Math.min(Math.max(0, startS), LONGEST_VIEW_S - span);
  return { startS: start, endS: start + span };
}

/** Zoom around a moment that keeps its place on screen. */
export function zoomed(view: TimeView, factor: number, aroundS: number): TimeView {
  return boundedView({
    startS: aroundS - (aroundS - view.startS) * factor,
    endS: aroundS + (view.endS - aroundS) * factor,
  });
}

export interface Tick {
  timeS: number;
  label: string;
}

/** Round marks at least ``spacing`` pixels apart, in ms or s, or in beats of ``beatS`` seconds. */
export function ticks(scale: TimeScale, beatS: number | null = null, spacing = 60): Tick[] {
  return scale.shape === "even"
    ? evenTicks(scale, beatS, spacing)
    : denseTicks(scale, beatS, spacing);
}

function decimalStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((n) => n * power).find((n) => n >= least * 0.999) ?? 10 * power;
}

const trimmed = (value: number, digits: number) => {
  const text = value.toFixed(digits);
  return text.includes(".") ? text.replace(/\.?0+$/, "") : text;
};

function evenTicks(scale: TimeScale, beatS: number | null, spacing: number): Tick[] {
  const least = ((scale.endS - scale.startS) * spacing) / Math.max(1, scale.width);
  const step =
    beatS === null ? decimalStep(least) : beatS * 2 ** Math.ceil(Math.log2(least / beatS));
  const inSeconds = scale.endS >= 2;
  const digits = Math.max(0, -Math.floor(Math.log10(inSeconds ? step : step * 1000) + 1e-9));
  const marks: Tick[] = [];
  for (let n = Math.ceil(scale.startS / step - 1e-9); n * step <= scale.endS; n++) {
    const timeS = n * step;
    const label =
      beatS === null
        ? (inSeconds ? timeS : timeS * 1000).toFixed(digits)
        : trimmed(timeS / beatS, 4);
    marks.push({ timeS, label });
  }
  return marks;
}

/** On a stretched ruler each mark is the next round number that has room. */
function denseTicks(scale: TimeScale, beatS: number | null, spacing: number): Tick[] {
  const marks: Tick[] = [];
  let x = scale.startS <= 0 ? scale.x(0) - spacing : 0;
  for (let guard = 0; guard < 200; guard++) {
    const least = scale.time(Math.max(x + spacing, scale.x(Math.max(0, scale.startS))));
    const before = Math.max(0, scale.time(Math.max(0, x)));
    const gap = Math.max(1e-5, least - before);
    const step =
      beatS === null ? decimalStep(gap / 2) : beatS * 2 ** Math.floor(Math.log2(gap / beatS));
    const timeS = Math.max(0, Math.ceil(least / step - 1e-9) * step);
    if (timeS > scale.endS || !Number.isFinite(timeS)) break;
    const label =
      beatS !== null
        ? trimmed(timeS / beatS, 3)
        : scale.endS >= 2 && timeS >= 1
          ? `${trimmed(timeS, 2)} s`
          : trimmed(timeS * 1000, 2);
    marks.push({ timeS, label });
    x = scale.x(timeS);
  }
  return marks;
}

/** The moment on a grid of ``gridS`` seconds that is nearest. */
export function snapped(timeS: number, gridS: number | null): number {
  return gridS === null ? timeS : Number((Math.round(timeS / gridS) * gridS).toPrecision(12));
}
