/** Samples of a RIFF WAVE file with 32-bit float numbers, channel by channel. */
export interface FloatAudio {
  sampleRate: number;
  channels: Float32Array<ArrayBuffer>[];
}

/** Whether a file is a WAV whose numbers are 32-bit floats. */
export function isFloatWav(data: ArrayBuffer): boolean {
  if (data.byteLength < 12) return false;
  const view = new DataView(data);
  const RIFF = 0x52494646;
  const FMT = 0x666d7420;
  if (view.getUint32(0) !== RIFF) return false;
  for (let at = 12; at + 24 <= data.byteLength;) {
    if (view.getUint32(at) === FMT) return view.getUint16(at + 22, true) === 32;
    const size = view.getUint32(at + 4, true);
    at += 8 + size + (size % 2);
  }
  return false;
}

/** Read a float WAV exactly as it is; a browser's own decoder would resample it. */
export function readFloatWav(data: ArrayBuffer): FloatAudio {
  const view = new DataView(data);
  const tag = (at: number) => String.fromCharCode(...new Uint8Array(data, at, 4));
  if (data.byteLength < 12 || tag(0) !== "RIFF" || tag(8) !== "WAVE")
    throw new Error("no WAV file");
  let channelCount = 0;
  let sampleRate = 0;
  for (let at = 12; at + 8 <= data.byteLength;) {
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    if (tag(at) === "fmt ") {
      channelCount = view.getUint16(body + 2, true);
      sampleRate = view.getUint32(body + 4, true);
      if (view.getUint16(body + 14, true) !== 32) throw new Error("not 32-bit float");
    } else if (tag(at) === "data") {
      const numbers = new Float32Array(data.slice(body, body + size));
      return { sampleRate, channels: apart(numbers, channelCount) };
    }
    at = body + size + (size % 2);
  }
  throw new Error("WAV without data");
}

function apart(numbers: Float32Array<ArrayBuffer>, channelCount: number) {
  if (channelCount === 1) return [numbers];
  const frames = Math.floor(numbers.length / channelCount);
  return Array.from({ length: channelCount }, (_, channel) => {
    const own = new Float32Array(frames);
    for (let n = 0; n < frames; n++) own[n] = numbers[n * channelCount + channel] ?? 0;
    return own;
  });
}
