import { create } from "zustand";
import { readFloatWav } from "./wav";

/** What plays now, for playheads and meters. */
interface PlayerState {
  key: string | null;
  startedAt: number;
  lengthS: number;
  /** By how many dB playback was lowered so that it never exceeds full scale; 0 where not. */
  heldBackDb: number;
}

export const usePlayer = create<PlayerState>(() => ({
  key: null,
  startedAt: 0,
  lengthS: 0,
  heldBackDb: 0,
}));

const KEPT_BUFFERS = 24;
const buffers = new Map<string, AudioBuffer>();
let context: AudioContext | null = null;
let playing: { source: AudioBufferSourceNode; gain: GainNode } | null = null;

function audioContext(): AudioContext {
  context ??= new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
  return context;
}

/** Seconds since the current sound began to play, or null where nothing plays. */
export function playPosition(): number | null {
  const { key, startedAt, lengthS } = usePlayer.getState();
  if (key === null || context === null) return null;
  const position = context.currentTime - startedAt;
  return position <= lengthS ? position : null;
}

/** Fetch a float WAV once and keep it ready; the address names its content for good. */
export async function loadAudio(url: string): Promise<AudioBuffer> {
  const kept = buffers.get(url);
  if (kept) return kept;
  const response = await fetch(url);
  if (!response.ok) throw new Error(`no audio at ${url}`);
  const audio = readFloatWav(await response.arrayBuffer());
  const frames = Math.max(1, audio.channels[0]?.length ?? 1);
  const buffer = new AudioBuffer({
    numberOfChannels: audio.channels.length,
    length: frames,
    sampleRate: audio.sampleRate,
  });
  audio.channels.forEach((samples, channel) => buffer.copyToChannel(samples, channel));
  buffers.set(url, buffer);
  const oldest = buffers.keys().next().value;
  if (buffers.size > KEPT_BUFFERS && oldest !== undefined) buffers.delete(oldest);
  return buffer;
}

function peakOf(buffer: AudioBuffer): number {
  let peak = 0;
  for (let channel = 0; channel < buffer.numberOfChannels; channel++) {
    for (const sample of buffer.getChannelData(channel)) peak = Math.max(peak, Math.abs(sample));
  }
  return peak;
}

/** Let go of what plays, with a short fade so that stopping does not click. */
export function stopPlaying(): void {
  if (!playing || !context) return;
  const { source, gain } = playing;
  const now = context.currentTime;
  gain.gain.setTargetAtTime(0, now, 0.004);
  source.stop(now + 0.03);
  playing = null;
  usePlayer.setState({ key: null });
}

/** Play a buffer from its start in place of whatever plays. */
export function play(buffer: AudioBuffer, key: string): void {
  const audio = audioContext();
  void audio.resume();
  stopPlaying();
  const peak = peakOf(buffer);
  const safe = peak > 1 ? 1 / peak : 1;
  const source = new AudioBufferSourceNode(audio, { buffer });
  const gain = new GainNode(audio, { gain: safe });
  source.connect(gain).connect(audio.destination);
  source.onended = () => {
    source.disconnect();
    gain.disconnect();
    if (playing?.source === source) {
      playing = null;
      usePlayer.setState({ key: null });
    }
  };
  source.start();
  playing = { source, gain };
  // What is heard now was handed over this long ago.
  const latency = audio.outputLatency || audio.baseLatency;
  usePlayer.setState({
    key,
    startedAt: audio.currentTime + latency,
    lengthS: buffer.duration,
    heldBackDb: safe < 1 ? -20 * Math.log10(safe) : 0,
  });
  window.dispatchEvent(new CustomEvent("nest-crate:played", { detail: { key } }));
}

/** Fetch and play; a newer call overtakes an older one that is still being fetched. */
let wanted = 0;
export async function playUrl(url: string, key: string): Promise<void> {
  const mine = ++wanted;
  const buffer = await loadAudio(url);
  if (mine === wanted) play(buffer, key);
}
