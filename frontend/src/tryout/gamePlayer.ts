import type { GameRun, GameTest, RoundPlan, TryOut, TryOutPart } from "../api";
import { audioContext } from "../audio";
import { audioOf, bedWish, gainOf, type Heard } from "../loop";

/** One hit as it was played: what a cue sheet lists. */
export interface Cue {
  atS: number;
  name: string;
  sample: number;
  pitch: number;
  gainDb: number;
}

const AHEAD_S = 0.3;
const START_S = 0.05;

/** Plays a run as a game would: at its own times, or one hit a tap. */
export class GamePlayer {
  readonly played: Cue[] = [];
  private next = 0;
  private timer: number | undefined;
  private began = 0;
  private out: GainNode | null = null;
  private bed: AudioBufferSourceNode | null = null;
  private stopped = false;

  constructor(
    private readonly heard: Heard,
    private readonly part: TryOutPart,
    private readonly game: GameTest,
    private readonly run: GameRun,
    private readonly onEnd: () => void,
  ) {}

  /** Fetch all variations, lay the bed, and be ready for the first hit. */
  async prepare(plan: RoundPlan | null): Promise<void> {
    const samples = [...new Set(this.run.triggers.map(({ sample }) => sample))];
    await Promise.all(samples.map((sample) => this.buffer(sample)));
    const audio = audioContext();
    void audio.resume();
    const { distance_gain_db, high_cut_hz } = this.run;
    this.out = new GainNode(audio, { gain: gainOf(distance_gain_db) * gainOf(this.part.level_db) });
    const cut = new BiquadFilterNode(audio, {
      type: "lowpass",
      frequency: Math.min(20000, high_cut_hz),
      Q: 20 * Math.log10(Math.SQRT1_2),
    });
    this.out.connect(cut).connect(audio.destination);
    await this.layBed(plan);
    this.began = audio.currentTime + START_S;
  }

  private async layBed(plan: RoundPlan | null): Promise<void> {
    const part = this.heard.document.parts.find(({ id }) => id === this.game.bed);
    const source = plan?.sources.find((one) => one.part === part?.id);
    if (!part || !source || source.missing !== "" || part.plays.kind !== "bed") return;
    const buffer = await audioOf(bedWish(this.heard, part, source));
    if (this.stopped) return;
    const audio = audioContext();
    this.bed = new AudioBufferSourceNode(audio, { buffer, loop: true });
    const gain = new GainNode(audio, { gain: gainOf(part.level_db) });
    this.bed.connect(gain).connect(audio.destination);
    this.bed.start();
  }

  private buffer(sample: number): Promise<AudioBuffer> {
    const body = { plays: this.part.plays, sample, tempo_bpm: 120 };
    return audioOf({ key: `game sample ${sample}`, url: "/api/tryouts/hits", body });
  }

  /** Play the whole run at its own times. */
  start(): void {
    const fill = () => {
      const audio = audioContext();
      for (let one = this.run.triggers[this.next]; one; one = this.run.triggers[this.next]) {
        if (this.began + one.at_s > audio.currentTime + AHEAD_S) return;
        this.place(this.began + one.at_s, one.at_s);
      }
      if (this.next >= this.run.triggers.length) this.stop();
    };
    fill();
    this.timer = window.setInterval(fill, 80);
  }

  /** The next hit of the run, now. */
  tap(): void {
    const now = audioContext().currentTime;
    this.place(now, now - this.began);
    if (this.next >= this.run.triggers.length) this.next = 0;
  }

  private place(when: number, atS: number): void {
    const one = this.run.triggers[this.next];
    const out = this.out;
    this.next += 1;
    if (!one || !out) return;
    const { name, sample, pitch_semitones: pitch, gain_db: gainDb } = one;
    this.played.push({ atS, name, sample, pitch, gainDb });
    window.dispatchEvent(new CustomEvent("nest-crate:game-hit", { detail: { n: this.next - 1 } }));
    void this.buffer(sample).then((buffer) => {
      if (this.stopped) return;
      const audio = audioContext();
      const source = new AudioBufferSourceNode(audio, {
        buffer,
        playbackRate: 2 ** (pitch / 12),
      });
      const gain = new GainNode(audio, { gain: gainOf(gainDb) });
      source.connect(gain).connect(out);
      source.onended = () => gain.disconnect();
      source.start(Math.max(when, audio.currentTime));
    });
  }

  stop(): void {
    if (this.stopped) return;
    this.stopped = true;
    window.clearInterval(this.timer);
    this.bed?.stop();
    const out = this.out;
    // What still sounds rings on.
    window.setTimeout(() => out?.disconnect(), 4000);
    this.onEnd();
  }
}

/** What was played as a cue sheet: one line a hit. */
export function cueSheet(document: TryOut, cues: readonly Cue[]): string {
  const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);
  const head = "number,seconds,file,sample,pitch_semitones,gain_db";
  const rows = cues.map((one, n) =>
    [
      n + 1,
      one.atS.toFixed(4),
      // A table program takes what begins so for a formula.
      cell(/^[=+\-@]/.test(one.name) ? `'${one.name}` : one.name),
      one.sample,
      one.pitch.toFixed(3),
      one.gainDb.toFixed(2),
    ].join(","),
  );
  return [`# ${document.name.replace(/\s+/g, " ")}`, head, ...rows, ""].join("\r\n");
}
