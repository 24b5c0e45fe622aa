/** How quick the line to the server is, by what came over it lately, in bytes a second. */
const KEPT_AS = "nest-crate:line-speed";
/** Less than this says more about latency than about the line. */
const LEAST_BYTES = 15_000;
const SHORTEST_S = 0.001;

/** From here on two seconds of float samples come within half a second. */
const FLOAT_FROM = 2_000_000;
const FULL_FLAC_FROM = 500_000;

let known: number | null = null;

/** So many bytes came within so long, from the first to the last of them. */
export function noteTransfer(bytes: number, seconds: number): void {
  if (bytes < LEAST_BYTES) return;
  const measured = bytes / Math.max(SHORTEST_S, seconds);
  // Half of what was known stays: one slow answer may have had to wait for another.
  known = known === null ? measured : Math.sqrt(known * measured);
  try {
    localStorage.setItem(KEPT_AS, String(Math.round(known)));
  } catch {
    // Without it the next page measures again.
  }
}

/** The speed as far as it is known: measured here, by the page's own scripts, or at the last visit. */
function lineSpeed(): number | null {
  if (known !== null) return known;
  known = fromScripts() ?? fromLastVisit();
  return known;
}

function fromScripts(): number | null {
  const entries = performance.getEntriesByType("resource") as PerformanceResourceTiming[];
  const speeds = entries
    .filter((one) => one.transferSize >= LEAST_BYTES)
    .map(
      (one) =>
        one.transferSize / Math.max(SHORTEST_S, (one.responseEnd - one.responseStart) / 1000),
    );
  // Several share the line at times; the quickest tells most about it.
  return speeds.length > 0 ? Math.max(...speeds) : null;
}

function fromLastVisit(): number | null {
  try {
    return Number(localStorage.getItem(KEPT_AS)) || null;
  } catch {
    return null;
  }
}

/**
 * In which form audio is asked for (an Accept header): exact float samples where the line is quick,
 * else FLAC of 24 or 16 bit, a half to a fifth of them.
 */
export function acceptedAudio(): string {
  const speed = lineSpeed();
  if (speed === null || speed >= FLOAT_FROM) return "audio/wav";
  return `audio/flac; bits=${speed >= FULL_FLAC_FROM ? 24 : 16}, audio/wav; q=0.5`;
}

/** Begin anew, as a page that was just opened. */
export function forgetLineSpeed(): void {
  known = null;
}
