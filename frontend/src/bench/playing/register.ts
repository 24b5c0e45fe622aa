import { useEffect, useState } from "react";
import { renderRequest, resultOf, api, ApiError, type RegisterAnswer, type Sound } from "../../api";
import { useBench } from "../../sound";

export type Reading = RegisterAnswer["readings"][number];
export type Shown = "level" | "harshness" | "fundamental";

const WAIT_MS = 700;

/** The sound measured over the keyboard, again after each change; null while it is unknown. */
export function useRegister(wanted: boolean): Reading[] | null {
  const document = useBench((state) => state.document);
  const moving = useBench((state) => state.gesture !== null);
  const [found, setFound] = useState<{ document: Sound; readings: Reading[] } | null>(null);
  useEffect(() => {
    if (!wanted || !document || moving) return;
    let current = true;
    const measure = async () => {
      try {
        const body = renderRequest(document, "draft");
        const { readings } = await resultOf(api.POST("/api/judging/register", { body }));
        if (current) setFound({ document, readings });
      } catch (error) {
        // The audition says what is wrong; the keys stay plain.
        if (!(error instanceof ApiError)) throw error;
      }
    };
    const timer = window.setTimeout(() => void measure(), WAIT_MS);
    return () => {
      current = false;
      window.clearTimeout(timer);
    };
  }, [wanted, document, moving]);
  return found?.readings ?? null;
}

const LOUD_RANGE_DB = 24;
const HARSH_FLOOR_DB = -30;
const FUNDAMENTAL_FLOOR_DB = -36;

/** How much of what is shown a reading has, 0 to 1. */
export function shareOf(one: Reading, shown: Shown, loudest: number): number {
  const db =
    shown === "level"
      ? (one.loudness_lufs - loudest) / LOUD_RANGE_DB
      : shown === "harshness"
        ? one.harsh_db / -HARSH_FLOOR_DB
        : (one.fundamental_db ?? -200) / -FUNDAMENTAL_FLOOR_DB;
  return Math.min(1, Math.max(0, 1 + db));
}

/** A note's share between the notes that were measured. */
export function shareAt(readings: Reading[], note: number, shown: Shown): number {
  const loudest = Math.max(...readings.map(({ loudness_lufs }) => loudness_lufs));
  const above = readings.findIndex((one) => one.note >= note);
  const upper = readings[above === -1 ? readings.length - 1 : above];
  const lower = readings[above <= 0 ? Math.max(0, above) : above - 1] ?? upper;
  if (!upper || !lower) return 0;
  const [a, b] = [shareOf(lower, shown, loudest), shareOf(upper, shown, loudest)];
  const span = upper.note - lower.note;
  return span <= 0 ? b : a + (b - a) * Math.min(1, Math.max(0, (note - lower.note) / span));
}

const HARSH_DB = -8;
const FAINT_DB = -30;
const LEVEL_STRAY_DB = 9;
// At its own note a sound is meant as it is: a little more of the same is as good.
const MORE_HARSH_DB = 3;

/** The notes around its own where it is neither much harsher, nor without its own pitch, nor far
 * from the level it has there. */
export function goodRange(readings: Reading[], own: number): { low: number; high: number } | null {
  const distance = (n: number) => Math.abs((readings[n]?.note ?? 0) - own);
  const nearest = readings.reduce((best, _, n) => (distance(n) < distance(best) ? n : best), 0);
  const here = readings[nearest];
  if (!here) return null;
  const harshest = Math.max(HARSH_DB, here.harsh_db + MORE_HARSH_DB);
  const faintest = Math.min(FAINT_DB, here.fundamental_db ?? -200);
  const fine = (one: Reading | undefined) =>
    one !== undefined &&
    one.harsh_db <= harshest &&
    Math.abs(one.loudness_lufs - here.loudness_lufs) < LEVEL_STRAY_DB &&
    (one.fundamental_db ?? -200) >= faintest;
  let [first, last] = [nearest, nearest];
  while (fine(readings[first - 1])) first -= 1;
  while (fine(readings[last + 1])) last += 1;
  return { low: readings[first]?.note ?? 0, high: readings[last]?.note ?? 127 };
}
