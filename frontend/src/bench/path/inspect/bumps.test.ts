import { describe, expect, it } from "vitest";
import { bump, isOwnPitch } from "./bumps";

const hz = Array.from({ length: 120 }, (_, n) => 25 * 720 ** (n / 119));
const bell = (at: number, db: number) =>
  hz.map(
    (one) => -40 - 3 * Math.log2(one / 100) + db * Math.exp(-(Math.log2(one / at) ** 2) / 0.2),
  );

describe("bump", () => {
  it("is found where it stands", () => {
    const found = bump(hz, bell(300, 12));
    expect(found?.hz).toBeGreaterThan(260);
    expect(found?.hz).toBeLessThan(340);
    expect(found?.overDb).toBeGreaterThan(6);
  });

  it("is none in a spectrum that only falls, nor one outside the low middle", () => {
    expect(bump(hz, bell(300, 0))).toBeNull();
    expect(bump(hz, bell(3000, 12))).toBeNull();
  });
});

describe("the pitch of the sound itself", () => {
  it("is no resonance, and what lies beside it is one", () => {
    expect(isOwnPitch(110.5, [55, 110], 1 / 8)).toBe(true);
    expect(isOwnPitch(220, [55, 110], 1 / 8)).toBe(false);
    expect(isOwnPitch(140, [110], 1 / 2)).toBe(true);
  });
});
