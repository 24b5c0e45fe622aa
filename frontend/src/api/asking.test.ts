import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { mayPass, ownStream, untilAnswered } from "./asking";
import { ApiError } from "./client";

const failing = (status: number) => Promise.reject(new ApiError(status, null, `failed ${status}`));

describe("asking until there is an answer", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it.each([0, 409, 429, 500, 503])("asks again after %d", async (status) => {
    const ask = vi.fn(() => Promise.resolve("figures"));
    ask.mockImplementationOnce(() => failing(status));
    const trouble = vi.fn();
    const answer = untilAnswered(ask, new AbortController().signal, trouble);
    await vi.advanceTimersByTimeAsync(2500);
    expect(await answer).toBe("figures");
    expect(ask).toHaveBeenCalledTimes(2);
    // That requests passed each other is no trouble of the person's.
    expect(trouble).toHaveBeenCalledTimes(status === 409 ? 0 : 1);
  });

  it.each([400, 403, 404, 422])("says %d, which would be the same again", async (status) => {
    const ask = vi.fn(() => failing(status));
    const signal = new AbortController().signal;
    await expect(untilAnswered(ask, signal, vi.fn())).rejects.toThrow(`failed ${status}`);
    expect(ask).toHaveBeenCalledTimes(1);
  });

  it("ends once nobody wants it, also while it waits", async () => {
    const control = new AbortController();
    const ask = vi.fn(() => failing(503));
    const answer = untilAnswered(ask, control.signal, vi.fn());
    await vi.advanceTimersByTimeAsync(500);
    control.abort();
    expect(await answer).toBeNull();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(ask).toHaveBeenCalledTimes(1);
  });

  it("replaces nothing that another page asked for", async () => {
    const here = ownStream("others");
    vi.resetModules();
    const { ownStream: there } = await import("./asking");
    expect(there("others")).not.toBe(here);
    expect(ownStream("others")).toBe(here);
  });

  it("takes what the program itself did wrong for no passing trouble", () => {
    expect(mayPass(new TypeError("undefined"))).toBe(false);
  });
});
