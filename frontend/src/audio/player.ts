import { create } from "zustand";
import { isFloatWav, readFloatWav } from "./wav";

/** What plays now, for playheads and meters. */
interface PlayerState {
  key: string | null;
  /** What could not be fetched when it was to be played last, if so. */
  failedKey: string | null;
  startedAt: number;
  lengthS: number;
  /** By how many dB playback was lowered so that it never exceeds full scale; 0 where not. */
  heldBackDb: number;
}

export const usePlayer = create<PlayerState>(() => ({
  key: null,
  failedKey: null,
  startedAt: 0,
  lengthS: 0,
  heldBackDb: 0,
}));

const KEPT_BUFFERS = 24;
const buffers = new Map<string, AudioBuffer>();
let context: AudioContext | null = null;
let playing: Voice | null = null;
let looping = false;

/** The one context in which everything of the page is heard. */
export function audioContext(): AudioContext {
  context ??= new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
  return context;
}

/** Seconds since the current sound began to play, or null where nothing plays. */
export function playPosition(): number | null {
  const { key, startedAt, lengthS } = usePlayer.getState();
  if (key === null || context === null) return null;
  const position = context.currentTime - startedAt;
  if (position <= lengthS) return position;
  return looping && lengthS > 0 ? position % lengthS : null;
}

/** A float WAV as a buffer to be played. */
function bufferOf(file: ArrayBuffer): AudioBuffer {
  const audio = readFloatWav(file);
  const frames = Math.max(1, audio.channels[0]?.length ?? 1);
  const buffer = new AudioBuffer({
    numberOfChannels: audio.channels.length,
    length: frames,
    sampleRate: audio.sampleRate,
  });
  audio.channels.forEach((samples, channel) => buffer.copyToChannel(samples, channel));
  return buffer;
}

/** Any file as a buffer: ours exactly as it is, others as the browser reads them. */
export async function playable(file: ArrayBuffer): Promise<AudioBuffer> {
  return isFloatWav(file) ? bufferOf(file) : audioContext().decodeAudioData(file);
}

/** Fetch an audio file once and keep it ready; the address names its content for good. */
export async function loadAudio(url: string): Promise<AudioBuffer> {
  const kept = buffers.get(url);
  if (kept) return kept;
  const response = await fetch(url);
  if (!response.ok) throw new Error(`no audio at ${url}`);
  const buffer = await playable(await response.arrayBuffer());
  keepAudio(url, buffer);
  return buffer;
}

/** Keep a buffer ready under its address or digest, with the last few others. */
export function keepAudio(key: string, buffer: AudioBuffer): void {
  buffers.delete(key);
  buffers.set(key, buffer);
  const oldest = buffers.keys().next().value;
  if (buffers.size > KEPT_BUFFERS && oldest !== undefined) buffers.delete(oldest);
}

/** What is kept ready under a key. */
export const keptAudio = (key: string): AudioBuffer | null => buffers.get(key) ?? null;

function peakOf(buffer: AudioBuffer): number {
  let peak = 0;
  for (let channel = 0; channel < buffer.numberOfChannels; channel++) {
    for (const sample of buffer.getChannelData(channel)) peak = Math.max(peak, Math.abs(sample));
  }
  return peak;
}

/** Let go of what plays, with a short fade so that stopping does not click. */
export function stopPlaying(): void {
  playing?.stop();
  playing = null;
  usePlayer.setState({ key: null });
}

/** Play a buffer from its start in place of whatever plays, ``gainDb`` (0 or below) lower. */
export const play = (buffer: AudioBuffer, key: string, gainDb = 0): Voice =>
  begin(buffer, key, gainDb, false);

/** Play a buffer over and over until something else is played or it is stopped. */
export const playLoop = (buffer: AudioBuffer, key: string): Voice => begin(buffer, key, 0, true);

function begin(buffer: AudioBuffer, key: string, gainDb: number, loop: boolean): Voice {
  stopPlaying();
  const voice = startVoice(buffer, { gainDb, loop, onEnd: () => ended(voice) });
  playing = voice;
  looping = loop;
  const audio = audioContext();
  // What is heard now was handed over this long ago.
  const latency = audio.outputLatency || audio.baseLatency;
  usePlayer.setState({
    key,
    startedAt: audio.currentTime + latency,
    lengthS: buffer.duration,
  });
  window.dispatchEvent(new CustomEvent("nest-crate:played", { detail: { key } }));
  return voice;
}

function ended(voice: Voice): void {
  if (playing !== voice) return;
  playing = null;
  usePlayer.setState({ key: null });
}

/** One sounding buffer, or several of the same hit following each other without a seam. */
export interface Voice {
  /** Seconds since it began. */
  position(): number;
  /** Go on in another buffer from a place that both share; at once where that has passed. */
  goOnIn(buffer: AudioBuffer, atS: number): void;
  /** Fade out within a few milliseconds. */
  stop(): void;
}

interface VoiceOptions {
  gainDb?: number;
  loop?: boolean;
  onEnd?: () => void;
}

const FADE_S = 0.006;
const sounding = new Set<{ peak: number }>();

/**
 * What sounds together never exceeds full scale: the output is lowered to one over the sum of
 * all peaks, which no sum of the signals can pass.
 */
function keepSafe(audio: AudioContext, atOnce: boolean): void {
  const sum = [...sounding].reduce((total, { peak }) => total + peak, 0);
  const safe = sum > 1 ? 1 / sum : 1;
  const { gain } = output(audio);
  if (atOnce || safe < gain.value) gain.setValueAtTime(safe, audio.currentTime);
  else gain.setTargetAtTime(safe, audio.currentTime, 0.02);
  usePlayer.setState({ heldBackDb: safe < 1 ? -20 * Math.log10(safe) : 0 });
}

let outputNode: GainNode | null = null;
function output(audio: AudioContext): GainNode {
  if (!outputNode) {
    outputNode = new GainNode(audio);
    outputNode.connect(audio.destination);
  }
  return outputNode;
}

/** Start a buffer beside whatever sounds already. */
export function startVoice(buffer: AudioBuffer, options: VoiceOptions = {}): Voice {
  const audio = audioContext();
  void audio.resume();
  const level = 10 ** ((options.gainDb ?? 0) / 20);
  const began = audio.currentTime;
  const counted = { peak: peakOf(buffer) * level };
  sounding.add(counted);
  keepSafe(audio, sounding.size === 1);

  const sourceOf = (from: AudioBuffer, atS: number, offsetS: number) => {
    const source = new AudioBufferSourceNode(audio, { buffer: from, loop: options.loop ?? false });
    const gain = new GainNode(audio, { gain: level });
    source.connect(gain).connect(output(audio));
    source.start(atS, offsetS);
    return { source, gain };
  };
  let now = sourceOf(buffer, began, 0);
  const finish = () => {
    sounding.delete(counted);
    if (sounding.size > 0) keepSafe(audio, false);
    options.onEnd?.();
  };
  const watch = ({ source, gain }: typeof now) => {
    source.onended = () => {
      source.disconnect();
      gain.disconnect();
      if (now.source === source) finish();
    };
  };
  watch(now);

  return {
    position: () => audio.currentTime - began,
    goOnIn: (next, atS) => {
      const at = Math.max(audio.currentTime + 0.002, began + atS);
      const before = now;
      counted.peak = Math.max(counted.peak, peakOf(next) * level);
      keepSafe(audio, false);
      now = sourceOf(next, at, Math.min(next.duration, at - began));
      watch(now);
      now.gain.gain.setValueAtTime(0, at);
      now.gain.gain.linearRampToValueAtTime(level, at + FADE_S);
      before.gain.gain.setValueAtTime(level, at);
      before.gain.gain.linearRampToValueAtTime(0, at + FADE_S);
      before.source.stop(at + FADE_S);
    },
    stop: () => {
      const at = audio.currentTime;
      now.gain.gain.setTargetAtTime(0, at, 0.004);
      now.source.stop(at + 0.03);
    },
  };
}

/** Fetch and play; a newer call overtakes an older one that is still being fetched. */
let wanted = 0;
export async function playUrl(url: string, key: string, gainDb = 0): Promise<void> {
  const mine = ++wanted;
  const buffer = await loadAudio(url).catch(() => null);
  if (mine !== wanted) return;
  usePlayer.setState({ failedKey: buffer ? null : key });
  if (buffer) play(buffer, key, gainDb);
}
