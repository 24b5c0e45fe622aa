import { describe, expect, it } from "vitest";
import { ApiError } from "../api/client";
import { type Failed, sendAll, type Sent } from "./sending";

const file = (name: string) => ({ name }) as File;
const FILES = ["a", "b", "c", "d", "e"].map(file);

function recorder() {
  const sent: Sent[] = [];
  const failed: Failed[] = [];
  const away: boolean[] = [];
  const listener = {
    sent: (one: Sent) => void sent.push(one),
    failed: (one: Failed) => void failed.push(one),
    away: (one: boolean) => void away.push(one),
  };
  return { sent, failed, away, listener };
}

const numbered = (name: string): Sent => ({
  file: file(name),
  id: name.charCodeAt(0),
  name,
  isNew: true,
});
const options = (signal = new AbortController().signal) => ({
  signal,
  pause: () => Promise.resolve(),
});

describe("sending many files", () => {
  it("sends each once, two at a time at most", async () => {
    const { sent, failed, listener } = recorder();
    let under = 0;
    let most = 0;
    const send = async ({ name }: File) => {
      most = Math.max(most, ++under);
      await Promise.resolve();
      under--;
      return numbered(name);
    };
    expect(await sendAll(FILES, send, listener, options())).toEqual([]);
    expect(sent.map(({ id }) => id).sort((a, b) => a - b)).toEqual([97, 98, 99, 100, 101]);
    expect(failed).toEqual([]);
    expect(most).toBe(2);
  });

  it("tells what is refused and goes on with the others", async () => {
    const { sent, failed, listener } = recorder();
    const send = ({ name }: File) =>
      name === "b"
        ? Promise.reject(new ApiError(422, null, "is no audio file"))
        : Promise.resolve(numbered(name));
    await sendAll(FILES, send, listener, options());
    expect(sent).toHaveLength(4);
    expect(failed.map((one) => [one.file.name, one.reason])).toEqual([["b", "is no audio file"]]);
  });

  it.each([0, 502, 503, 504])(
    "waits for a server that answers %i, and loses nothing",
    async (status) => {
      const { sent, failed, away, listener } = recorder();
      let times = 0;
      const send = ({ name }: File) =>
        name === "c" && times++ < 3
          ? Promise.reject(new ApiError(status, null, "away"))
          : Promise.resolve(numbered(name));
      await sendAll(FILES, send, listener, options());
      expect(sent).toHaveLength(5);
      expect(failed).toEqual([]);
      expect(away.filter(Boolean)).toHaveLength(3);
      expect(away.at(-1)).toBe(false);
    },
  );

  it("begins no more once it is stopped", async () => {
    const { sent, listener } = recorder();
    const stop = new AbortController();
    const send = ({ name }: File) => {
      if (name === "b") stop.abort();
      return Promise.resolve(numbered(name));
    };
    const left = await sendAll(FILES, send, listener, options(stop.signal));
    expect(sent.map(({ id }) => id)).toEqual([97, 98]);
    expect(left.map(({ name }) => name)).toEqual(["c", "d", "e"]);
  });

  it("can be stopped while the server is away", async () => {
    const { sent, failed, listener } = recorder();
    const stop = new AbortController();
    const send = () => Promise.reject(new ApiError(0, null, "away"));
    const pause = () => {
      stop.abort();
      return Promise.resolve();
    };
    const left = await sendAll(FILES, send, listener, { signal: stop.signal, pause });
    expect([sent, failed]).toEqual([[], []]);
    expect(left.map(({ name }) => name).sort()).toEqual(["a", "b", "c", "d", "e"]);
  });
});
