import { create } from "zustand";
import type { ComparedAnswer } from "../api";
import { audioContext, stopPlaying } from "../audio";
import { differenceOf, framesOf, laidOut, peakOf } from "./aligned";

/** What is heard: a side by its place, or the difference signal of A and B. */
export type Heard = number | "difference";

/** A stretch of the ruler, and a band; what is null is not bounded. */
export interface Stretch {
  fromS: number;
  toS: number;
}
export interface Band {
  fromHz: number;
  toHz: number;
}

interface DeckState {
  playing: boolean;
  heard: Heard;
  /** From 0 (the side that is heard) to 1 (the next one). */
  mix: number;
  startedAt: number;
  stretch: Stretch | null;
  /** How the sides lie that are on the deck. */
  loaded: ComparedAnswer | null;
}

export const useDeck = create<DeckState>(() => ({
  playing: false,
  heard: 0,
  mix: 0,
  startedAt: 0,
  stretch: null,
  loaded: null,
}));

/** Going over is shorter than one hears as a gap, and long enough not to click. */
const FADE_S = 0.004;
const LEAD_S = 0.02;

interface Laid {
  sides: AudioBuffer[];
  difference: AudioBuffer;
  safe: number;
}

interface Sounding {
  sources: AudioBufferSourceNode[];
  gains: GainNode[];
}

/** Plays all sides at once, of which one is heard, so that changing over is at once and without a
 * gap. */
class Deck {
  private laid: Laid | null = null;
  private now: Sounding | null = null;

  /** Give it the sides as they are, and how they lie. */
  load(buffers: readonly AudioBuffer[], compared: ComparedAnswer): void {
    const frames = framesOf(compared);
    const channelsOf = (buffer: AudioBuffer) =>
      Array.from({ length: buffer.numberOfChannels }, (_, n) => buffer.getChannelData(n));
    const sides = buffers.map((buffer, n) =>
      laidOut(channelsOf(buffer), compared.sides[n] ?? { starts_s: 0, gain_db: 0 }, frames),
    );
    const [first = [], second = []] = sides;
    const difference = differenceOf(first, second);
    const peak = Math.max(1, peakOf([...sides, difference]));
    this.stop();
    this.laid = {
      sides: sides.map((channels) => bufferFrom(channels, frames)),
      difference: bufferFrom(difference, frames),
      safe: 1 / peak,
    };
    useDeck.setState({ loaded: compared });
  }

  /** Play from the start of a stretch, over and over where asked; one band alone where given. */
  play({ stretch = null, band = null, loop = false }: PlayOptions = {}): void {
    const { laid } = this;
    if (!laid) return;
    this.stop();
    stopPlaying();
    const audio = audioContext();
    void audio.resume();
    const at = audio.currentTime + LEAD_S;
    const out = new GainNode(audio, { gain: laid.safe });
    out.connect(audio.destination);
    const into = band ? throughBand(audio, band, out) : out;
    const all = [...laid.sides, laid.difference];
    const from = stretch?.fromS ?? 0;
    const to = stretch?.toS ?? laid.difference.duration;
    const gains = all.map(() => new GainNode(audio, { gain: 0 }));
    const sources = all.map((buffer, n) => {
      const source = new AudioBufferSourceNode(audio, {
        buffer,
        loop,
        loopStart: from,
        loopEnd: to,
      });
      const gain = gains[n];
      if (gain) source.connect(gain).connect(into);
      return source;
    });
    for (const source of sources) {
      if (loop) source.start(at, from);
      else source.start(at, from, to - from);
    }
    this.now = { sources, gains };
    this.setGains(at, 0.001);
    const [first] = sources;
    if (first)
      first.onended = () => {
        if (this.now?.sources[0] === first) this.ended();
      };
    useDeck.setState({ playing: true, startedAt: at, stretch });
    window.dispatchEvent(new CustomEvent("nest-crate:played", { detail: { key: "compare" } }));
  }

  /** Let another side be heard, from this moment on. */
  hear(heard: Heard): void {
    useDeck.setState({ heard });
    this.setGains(audioContext().currentTime, FADE_S);
  }

  mix(part: number): void {
    useDeck.setState({ mix: part });
    this.setGains(audioContext().currentTime, FADE_S);
  }

  stop(): void {
    const { now } = this;
    this.now = null;
    if (now) {
      const audio = audioContext();
      for (const gain of now.gains) gain.gain.setTargetAtTime(0, audio.currentTime, 0.003);
      for (const source of now.sources) source.stop(audio.currentTime + 0.02);
    }
    useDeck.setState({ playing: false });
  }

  /** Where on the ruler it is; null while nothing plays. */
  position(): number | null {
    const { playing, startedAt, stretch } = useDeck.getState();
    const { laid } = this;
    if (!playing || !laid) return null;
    const from = stretch?.fromS ?? 0;
    const length = (stretch?.toS ?? laid.difference.duration) - from;
    const passed = Math.max(0, audioContext().currentTime - startedAt);
    return from + (length > 0 ? passed % length : 0);
  }

  forget(): void {
    this.stop();
    this.laid = null;
    useDeck.setState({ loaded: null });
  }

  private ended(): void {
    this.now = null;
    useDeck.setState({ playing: false });
  }

  private setGains(at: number, fadeS: number): void {
    const { now, laid } = this;
    if (!now || !laid) return;
    const { heard, mix } = useDeck.getState();
    const count = laid.sides.length;
    now.gains.forEach((gain, n) => {
      const level = levelOf(n, heard, mix, count);
      gain.gain.cancelScheduledValues(at);
      gain.gain.setValueAtTime(gain.gain.value, at);
      gain.gain.linearRampToValueAtTime(level, at + fadeS);
    });
  }
}

interface PlayOptions {
  stretch?: Stretch | null;
  band?: Band | null;
  loop?: boolean;
}

/** How loud the n-th is: the sides, and the difference signal as the last. */
export function levelOf(n: number, heard: Heard, mix: number, sides: number): number {
  if (heard === "difference") return n === sides ? 1 : 0;
  if (n === sides) return 0;
  const next = (heard + 1) % sides;
  if (n === heard) return 1 - mix;
  return n === next ? mix : 0;
}

function bufferFrom(channels: Float32Array<ArrayBuffer>[], length: number): AudioBuffer {
  const numberOfChannels = Math.max(1, channels.length);
  const buffer = new AudioBuffer({ numberOfChannels, length, sampleRate: 48000 });
  channels.forEach((samples, n) => buffer.copyToChannel(samples, n));
  return buffer;
}

/** A band alone, by filters of 24 dB an octave at both ends. */
function throughBand(audio: AudioContext, band: Band, out: AudioNode): AudioNode {
  const filter = (type: BiquadFilterType, frequency: number) =>
    new BiquadFilterNode(audio, { type, frequency, Q: Math.SQRT1_2 });
  const chain: BiquadFilterNode[] = [];
  if (band.fromHz > 30)
    chain.push(filter("highpass", band.fromHz), filter("highpass", band.fromHz));
  if (band.toHz < 16_000) chain.push(filter("lowpass", band.toHz), filter("lowpass", band.toHz));
  const [first] = chain;
  if (!first) return out;
  chain.forEach((one, n) => one.connect(chain[n + 1] ?? out));
  return first;
}

export const deck = new Deck();
