/** The one ruler: which stretch of time is shown, and where each moment lies on screen. */
export interface TimeView {
  startS: number;
  endS: number;
}

export interface TimeScale extends TimeView {
  width: number;
  x(timeS: number): number;
  time(x: number): number;
}

export const SHORTEST_VIEW_S = 0.005;
export const LONGEST_VIEW_S = 61;

/** Room left of the start, so that what stands at 0 is seen whole. */
const START_PIXELS = 7;

export function timeScale({ startS, endS }: TimeView, width: number): TimeScale {
  const span = endS - startS;
  return {
    startS,
    endS,
    width,
    x: (timeS) => START_PIXELS + ((timeS - startS) / span) * (width - START_PIXELS),
    time: (x) => startS + ((x - START_PIXELS) / Math.max(1, width - START_PIXELS)) * span,
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

/** Round marks at least ``spacing`` pixels apart. */
export function ticks(scale: TimeScale, spacing = 60): { timeS: number; label: string }[] {
  const least = ((scale.endS - scale.startS) * spacing) / Math.max(1, scale.width);
  const power = 10 ** Math.floor(Math.log10(least));
  const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= least * 0.999) ?? 10 * power;
  const marks: { timeS: number; label: string }[] = [];
  for (let n = Math.ceil(scale.startS / step - 1e-9); n * step <= scale.endS; n++) {
    const timeS = n * step;
    const inSeconds = scale.endS >= 2;
    const digits = Math.max(0, -Math.floor(Math.log10(inSeconds ? step : step * 1000) + 1e-9));
    marks.push({ timeS, label: (inSeconds ? timeS : timeS * 1000).toFixed(digits) });
  }
  return marks;
}
