import { describe, expect, it } from "vitest";
import type { JobItem, RerenderRow } from "../../api/jobs";
import { differing, jobWords, rowsWords } from "./jobWords";

const job = (facts: Partial<JobItem>): JobItem => ({
  id: 1,
  kind: "rerender",
  title: "Render 20 samples again",
  state: "running",
  of: 20,
  done: 0,
  failed: 0,
  seconds: 0,
  created: "2026-01-01T00:00:00Z",
  ...facts,
});
const figures = { length_s: 1, peak_db: -1, loudness_lufs: -20, note: null, cents: null };
const row = (position: number, same: boolean | null): RerenderRow => ({
  position,
  sample_id: position,
  name: `${position}`,
  words: same === null ? "was imported" : null,
  rendered:
    same === null
      ? null
      : { revision: 1, sample_rate: 48000, same, likeness: 0, before: figures, after: figures },
});

describe("long work in words", () => {
  it("tells how far it is, counting what failed", () => {
    expect(jobWords(job({ done: 8, failed: 2, seconds: 5 }))).toBe(
      "10 of 20 · 2.0 a second · 5 s left",
    );
  });
  it.each([
    [{ state: "done", done: 20 }, "ready: 20 to compare"],
    [{ state: "done", done: 18, failed: 2 }, "ready: 18 to compare, 2 failed"],
    [{ state: "stopped", of: 3, done: 3 }, "stopped: 3 to compare"],
  ])("tells how it ended", (facts, words) => {
    expect(jobWords(job(facts))).toBe(words);
  });
});

describe("new renders in words", () => {
  it.each([
    [[], ""],
    [[false], "1 differs"],
    [[false, false, true, null], "2 differ, 1 the same, 1 could not be rendered"],
    [[true, true], "2 the same"],
  ])("%j", (rows, words) => {
    expect(rowsWords(rows.map((same, n) => row(n, same)))).toBe(words);
  });
  it("offers what differs alone", () => {
    expect(
      differing([row(1, true), row(2, false), row(3, null)]).map((one) => one.position),
    ).toEqual([2]);
  });
});
