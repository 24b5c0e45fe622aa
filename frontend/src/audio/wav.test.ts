import { expect, it } from "vitest";
import { isFloatWav, readFloatWav } from "./wav";

function wav(channels: number, numbers: number[], format = 3, bits = 32): ArrayBuffer {
  const data = new DataView(new ArrayBuffer(12 + 8 + 16 + 8 + 4 + 8 + numbers.length * 4));
  let at = 0;
  const text = (value: string) => [...value].forEach((c) => data.setUint8(at++, c.charCodeAt(0)));
  const u32 = (value: number) => (data.setUint32(at, value, true), (at += 4));
  const u16 = (value: number) => (data.setUint16(at, value, true), (at += 2));
  text("RIFF");
  u32(data.byteLength - 8);
  text("WAVE");
  text("fmt ");
  u32(16);
  u16(format);
  u16(channels);
  u32(48000);
  u32(48000 * 4 * channels);
  u16(4 * channels);
  u16(bits);
  text("fact");
  u32(4);
  u32(numbers.length / channels);
  text("data");
  u32(numbers.length * 4);
  for (const number of numbers) {
    data.setFloat32(at, number, true);
    at += 4;
  }
  return data.buffer;
}

it("reads channels apart, exactly", () => {
  const audio = readFloatWav(wav(2, [0.5, -1, 0.25, 2]));
  expect(audio.sampleRate).toBe(48000);
  expect(audio.channels.map((one) => [...one])).toEqual([
    [0.5, 0.25],
    [-1, 2],
  ]);
});

it.each([new ArrayBuffer(0), new ArrayBuffer(64), wav(1, [], 1, 16)])(
  "refuses what is no float WAV",
  (data) => {
    expect(() => readFloatWav(data)).toThrow();
  },
);

it.each([
  [wav(2, [0, 0]), true],
  [wav(1, [], 1, 16), false],
  [new ArrayBuffer(64), false],
  [new ArrayBuffer(3), false],
])("tells a float WAV from others", (data, float) => {
  expect(isFloatWav(data)).toBe(float);
});
