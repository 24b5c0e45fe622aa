import { describe, expect, it } from "vitest";
import { PartReader } from "./parts";

const bytes = (text: string) => new TextEncoder().encode(text);
const part = (name: string, body: string, more = "") =>
  `--b\r\nContent-Type: a/b\r\nContent-Disposition: inline; name="${name}"${more}\r\nContent-Length: ${body.length}\r\n\r\n${body}\r\n`;
const ANSWER = `${part("audio", "RIFF\r\n\r\n--b\r\n", '; filename="0af.wav"')}${part("figures", "{}")}--b--\r\n`;

describe("an answer in parts", () => {
  it.each([1, 2, 7, 64, 1000])("is read however it is cut: %i bytes at a time", (step) => {
    const reader = new PartReader();
    const found = [];
    const all = bytes(ANSWER);
    for (let at = 0; at < all.length; at += step)
      found.push(...reader.feed(all.subarray(at, at + step)));
    expect(found.map(({ name }) => name)).toEqual(["audio", "figures"]);
    expect(found[0]?.digest).toBe("0af");
    expect(new TextDecoder().decode(found[0]?.data)).toBe("RIFF\r\n\r\n--b\r\n");
  });

  it("gives a part before the next has come", () => {
    const reader = new PartReader();
    expect(reader.feed(bytes(part("audio", "abc")))).toHaveLength(1);
    expect(reader.feed(bytes(part("figures", "{}").slice(0, -5)))).toHaveLength(0);
  });
});
