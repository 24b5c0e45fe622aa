import { useEffect, useState } from "react";
import { asked } from "../../api/asked";
import { answered, api, ApiError } from "../../api/client";
import type { RegisterAnswer, Sound } from "../../api/types";
import { useBench } from "../store";

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
        const body = asked(document, "draft");
        const { readings } = await answered(api.POST("/api/judging/register", { body }));
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

/** Where a note is neither harsh, nor without its own pitch, nor far from the usual level. */
export function goodRange(readings: Reading[], own: number): { low: number; high: number } | null {
  const levels = readings.map(({ loudness_lufs }) => loudness_lufs).sort((a, b) => a - b);
  const usual = levels[Math.floor(levels.length / 2)] ?? 0;
  const pitched = readings.some((one) => one.fundamental_db !== null);
  const fine = readings.map(
    (one) =>
      one.harsh_db < HARSH_DB &&
      Math.abs(one.loudness_lufs - usual) < LEVEL_STRAY_DB &&
      (!pitched || (one.fundamental_db ?? -200) > FAINT_DB),
  );
  const distance = (n: number) => Math.abs((readings[n]?.note ?? 0) - own);
  const starts = fine.flatMap((good, n) => (good ? [n] : []));
  if (starts.length === 0) return null;
  const nearest = starts.reduce((best, n) => (distance(n) < distance(best) ? n : best));
  let [first, last] = [nearest, nearest];
  while (first > 0 && fine[first - 1]) first -= 1;
  while (last < fine.length - 1 && fine[last + 1]) last += 1;
  return { low: readings[first]?.note ?? 0, high: readings[last]?.note ?? 127 };
}
