import { beforeEach, describe, expect, it, vi } from "vitest";
import { acceptedAudio, forgetLineSpeed, noteTransfer } from "./lineSpeed";

const kept = new Map<string, string>();
const storage = {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, value: string) => kept.set(key, value),
};

const script = (transferSize: number, tookMs: number) => ({
  transferSize,
  responseStart: 300,
  responseEnd: 300 + tookMs,
});

function scripts(...entries: ReturnType<typeof script>[]) {
  vi.spyOn(performance, "getEntriesByType").mockReturnValue(entries as never);
}

describe("the form of audio by the line", () => {
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal("localStorage", storage);
    forgetLineSpeed();
    scripts();
  });

  it("is float where nothing is known", () => {
    expect(acceptedAudio()).toBe("audio/wav");
  });

  it("is float on a quick line, FLAC on slower ones", () => {
    noteTransfer(900_000, 0.1);
    expect(acceptedAudio()).toBe("audio/wav");
    forgetLineSpeed();
    noteTransfer(900_000, 1);
    expect(acceptedAudio()).toContain("audio/flac; bits=24");
    forgetLineSpeed();
    noteTransfer(900_000, 5);
    expect(acceptedAudio()).toContain("audio/flac; bits=16");
  });

  it("is known from the page's own scripts before anything was heard", () => {
    scripts(script(90_000, 900), script(300, 1));
    expect(acceptedAudio()).toContain("bits=16");
  });

  it("follows a line that becomes quicker or slower", () => {
    noteTransfer(100_000, 0.6);
    for (let n = 0; n < 6; n++) noteTransfer(100_000, 0.01);
    expect(acceptedAudio()).toBe("audio/wav");
    for (let n = 0; n < 6; n++) noteTransfer(100_000, 0.6);
    expect(acceptedAudio()).toContain("bits=16");
  });

  it("does not take a short answer for a slow line", () => {
    noteTransfer(2000, 0.5);
    expect(acceptedAudio()).toBe("audio/wav");
  });

  it("is remembered for the next visit", () => {
    noteTransfer(900_000, 5);
    forgetLineSpeed();
    expect(acceptedAudio()).toContain("bits=16");
  });
});
