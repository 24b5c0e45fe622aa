import { expect, it } from "vitest";
import { trackedHz } from "./keyTracking";

it.each([
  [300, 1, 28, 47.25],
  [300, 0.5, 28, 119.06],
  [300, 1, 60, 300],
  [1000, -1, 72, 500],
])("a cutoff of %s Hz tracking by %s is at note %s %s Hz", (cutoff, follow, note, hz) =>
  expect(trackedHz(cutoff, follow, note)).toBeCloseTo(hz, 1),
);
