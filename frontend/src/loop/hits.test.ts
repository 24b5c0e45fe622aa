import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { audioOf, type Wish } from "./hits";

const asked = vi.fn<() => Promise<Response>>();
const no = () => Response.json({ detail: "too long", code: "render_too_large" }, { status: 422 });

let made = 0;
const wish = (): Wish => ({ key: `wish ${++made}`, url: `/hit/${made}`, body: {} });
const settled = () => new Promise((go) => setTimeout(go, 0));

describe("audio of hits", () => {
  beforeEach(() => {
    asked.mockReset();
    vi.stubGlobal("fetch", asked);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
  });

  it("is asked for once, two at a time and in turn", async () => {
    const answers: (() => void)[] = [];
    asked.mockImplementation(() => new Promise((go) => answers.push(() => go(no()))));
    const wishes = [wish(), wish(), wish(), wish()];
    const all = Promise.allSettled(wishes.flatMap((one) => [audioOf(one), audioOf(one)]));
    for (let n = 0; n < wishes.length; n++) {
      await settled();
      expect(asked.mock.calls.length).toBe(Math.min(wishes.length, n + 2));
      answers[n]?.();
      await settled();
    }
    expect((await all).length).toBe(8);
  });

  it("that was refused is not asked for again at once", async () => {
    asked.mockImplementation(() => Promise.resolve(no()));
    const one = wish();
    for (let n = 0; n < 5; n++) await expect(audioOf(one)).rejects.toThrow("too long");
    expect(asked).toHaveBeenCalledTimes(1);
  });
});
