import { errorText, type RoundEvent, type RoundPlan, type TryOutPart } from "../api";
import { audioOf, bedWish, hitWish, readyAudio, type Heard, type Wish } from "./hits";
import { hitGain } from "./hitGain";
import { bedMark, sourceOf } from "./wishes";
import { CHOKE_S, Strip, velocityGain } from "./strips";

/** What begins later than this after a change is played as it is after the change. */
const CHANGE_AFTER_S = 0.015;
const FADE_S = 0.008;
const LATEST_S = 0.005;
/** After a plan could not be had, it is asked for again. */
const RETRY_MS = 400;

interface Sounding {
  at: number;
  /** Of a bed, all that it is heard by but its level; a hit has none. */
  key: string;
  source: AudioBufferSourceNode;
  gain: GainNode;
  strip: Strip;
}

interface Round {
  number: number;
  /** When it begins, on the audio clock. */
  at: number;
  plan: RoundPlan;
  strips: Map<string, Strip>;
  /** Hits that are placed already, or past. */
  placed: Set<string>;
}

export interface PlayerOptions {
  audio: BaseAudioContext;
  out: AudioNode;
  /** Plans of later rounds, asked for in time. */
  planOf: (heard: Heard, round: number) => Promise<RoundPlan>;
  onProblem?: (words: string) => void;
}

/** Places the hits of a try-out, round after round, on the audio clock. */
export class LoopPlayer {
  private rounds: Round[] = [];
  private sounding = new Set<Sounding>();
  private wantedRounds = new Set<number>();
  private stopped = false;
  /** The frame at which round 0 would have begun. */
  private origin = 0;

  constructor(
    private readonly options: PlayerOptions,
    private heard: Heard,
    firstPlan: RoundPlan,
    startAt: number,
  ) {
    this.origin = Math.round(startAt * this.rate);
    this.addRound(0, firstPlan);
  }

  private get rate(): number {
    return this.options.audio.sampleRate;
  }

  /** When a round begins: on a frame, and never further from its true place than half a frame. */
  private roundAt(number: number): number {
    const { length_s } = this.heard.document;
    return (this.origin + Math.round(number * length_s * this.rate)) / this.rate;
  }

  private addRound(number: number, plan: RoundPlan): void {
    const at = this.roundAt(number);
    this.rounds.push({ number, at, plan, strips: new Map(), placed: new Set() });
  }

  /** Seconds since the round that is heard began, and its number; null before and after. */
  position(now: number): { round: number; atS: number } | null {
    const found = this.rounds.filter(({ at }) => at <= now).at(-1);
    if (!found) return null;
    const atS = now - found.at;
    return atS <= this.heard.document.length_s ? { round: found.number, atS } : null;
  }

  /** Whether all of it has been heard. */
  get finished(): boolean {
    const last = this.rounds.at(-1);
    const { loop, length_s } = this.heard.document;
    if (loop || !last) return false;
    const now = this.options.audio.currentTime;
    return now > last.at + length_s && this.sounding.size === 0;
  }

  /** Place what begins until then; to be called often enough. */
  fill(until: number): void {
    if (this.stopped) return;
    const { audio } = this.options;
    const { loop, length_s } = this.heard.document;
    const last = this.rounds.at(-1);
    if (loop && last && this.roundAt(last.number + 1) < until + 0.5) this.ask(last.number + 1);
    for (const round of this.rounds) {
      if (round.at < until) this.fillRound(round, until);
    }
    const over = this.rounds.filter(({ at }) => at + length_s < audio.currentTime - 1);
    for (const round of over.slice(0, this.rounds.length - 1)) {
      for (const strip of round.strips.values()) strip.close();
      this.rounds = this.rounds.filter((one) => one !== round);
    }
  }

  private ask(number: number): void {
    if (this.wantedRounds.has(number)) return;
    this.wantedRounds.add(number);
    const { heard } = this;
    this.options
      .planOf(heard, number)
      .then((plan) => {
        const last = this.rounds.at(-1);
        const still = !this.stopped && this.heard === heard && last?.number === number - 1;
        if (still) this.addRound(number, plan);
      })
      .catch((error: unknown) => {
        this.options.onProblem?.(errorText(error));
        return new Promise((go) => setTimeout(go, RETRY_MS));
      })
      .finally(() => this.wantedRounds.delete(number));
  }

  private fillRound(round: Round, until: number): void {
    for (const event of round.plan.events) {
      if (round.at + event.at_s >= until) break;
      const part = this.partOf(event.part);
      const source = sourceOf(round.plan, event.part);
      if (!part || !source || source.missing !== "") continue;
      const name = `${event.part} ${event.hit}`;
      if (!round.placed.has(name))
        this.place(round, part, name, event, hitWish(this.heard, part, event, source));
    }
    for (const part of this.heard.document.parts) {
      const source = sourceOf(round.plan, part.id);
      if (part.plays.kind !== "bed" || !source || source.missing !== "") continue;
      const name = `${part.id} bed`;
      if (!round.placed.has(name))
        this.place(round, part, name, null, bedWish(this.heard, part, source));
    }
  }

  private partOf(id: string): TryOutPart | undefined {
    return this.heard.document.parts.find((part) => part.id === id);
  }

  private place(
    round: Round,
    part: TryOutPart,
    name: string,
    event: RoundEvent | null,
    wish: Wish,
  ): void {
    const { audio } = this.options;
    const at = round.at + Math.round((event?.at_s ?? 0) * this.rate) / this.rate;
    // A hit that comes too late is left out, for it would be out of time.
    if (event && at < audio.currentTime - LATEST_S) {
      round.placed.add(name);
      return;
    }
    const buffer = readyAudio(wish);
    if (!buffer) {
      audioOf(wish).catch((error: unknown) => this.options.onProblem?.(errorText(error)));
      return;
    }
    round.placed.add(name);
    // A bed that comes late goes on from where it would be.
    const late = event ? 0 : Math.max(0, audio.currentTime + FADE_S - at);
    if (late >= buffer.duration) return;
    const strip = this.stripOf(round, part);
    const source = new AudioBufferSourceNode(audio, { buffer });
    const level = event && part.plays.kind !== "sound" ? velocityGain(event.velocity) : 1;
    const gain = new GainNode(audio, { gain: level });
    const pan = new StereoPannerNode(audio, { pan: part.pan });
    source.connect(gain).connect(pan).connect(strip.input);
    const untilS = event?.until_s == null ? null : round.at + event.until_s - at;
    const shape = event ? { attackS: part.attack_s, untilS, level } : null;
    const rise = late > 0 ? { attackS: FADE_S, untilS: null, level } : null;
    const points = shape ? hitGain(shape) : rise ? hitGain(rise) : [];
    points.forEach(({ at: afterS, value }, n) => {
      if (n === 0) gain.gain.setValueAtTime(value, at + late + afterS);
      else gain.gain.linearRampToValueAtTime(value, at + late + afterS);
    });
    source.start(at + late, late);
    if (untilS !== null) source.stop(at + untilS + CHOKE_S + 0.001);
    strip.begun();
    const key = event ? "" : bedMark(this.heard, round.plan, part, wish);
    const one: Sounding = { at: at + late, key, source, gain, strip };
    this.sounding.add(one);
    source.onended = () => {
      this.sounding.delete(one);
      pan.disconnect();
      strip.ended();
    };
  }

  private stripOf(round: Round, part: TryOutPart): Strip {
    const found = round.strips.get(part.id);
    if (found) return found;
    const { audio, out } = this.options;
    const made = new Strip(audio, out, this.heard.document, part, round.plan, round.at);
    round.strips.set(part.id, made);
    return made;
  }

  /**
   * Go over to something changed, from the next hit on. ``plans`` are those of the rounds that are
   * under way; where the length of a round has changed, it goes on at the same share of it.
   */
  change(heard: Heard, plans: Map<number, RoundPlan>): void {
    const { audio } = this.options;
    const now = audio.currentTime;
    const from = now + CHANGE_AFTER_S;
    const before = this.heard.document.length_s;
    const beds = new Set(this.bedKeys(heard, plans));
    for (const one of [...this.sounding]) {
      const gone = one.key !== "" && !beds.has(one.key);
      if (one.at <= from && !gone) continue;
      this.sounding.delete(one);
      one.gain.gain.cancelScheduledValues(now);
      one.gain.gain.setTargetAtTime(0, now, FADE_S / 3);
      one.source.stop(one.at <= from ? now + 2 * FADE_S : now);
    }
    this.heard = heard;
    const after = heard.document.length_s;
    if (after !== before) this.moveOrigin(now, before, after);
    for (const round of this.rounds) {
      for (const [id, strip] of round.strips) {
        const part = this.partOf(id);
        if (part) strip.follow(heard.document, part);
        strip.close();
      }
      round.plan = plans.get(round.number) ?? round.plan;
      round.strips = new Map();
      round.placed = new Set(
        round.plan.events
          .filter(({ at_s }) => round.at + at_s <= from)
          .map(({ part, hit }) => `${part} ${hit}`),
      );
      const still = new Set([...this.sounding].map(({ key }) => key));
      for (const part of heard.document.parts) {
        const source = sourceOf(round.plan, part.id);
        if (part.plays.kind !== "bed" || !source) continue;
        const mark = bedMark(heard, round.plan, part, bedWish(heard, part, source));
        if (round.at <= from && still.has(mark)) round.placed.add(`${part.id} bed`);
      }
    }
    this.rounds = this.rounds.filter(({ at, number }) => at <= from || plans.has(number));
  }

  private bedKeys(heard: Heard, plans: Map<number, RoundPlan>): string[] {
    const plan = [...plans.values()][0];
    if (!plan) return [];
    return heard.document.parts.flatMap((part) => {
      const source = sourceOf(plan, part.id);
      return part.plays.kind === "bed" && source
        ? [bedMark(heard, plan, part, bedWish(heard, part, source))]
        : [];
    });
  }

  private moveOrigin(now: number, before: number, after: number): void {
    const current = this.rounds.filter(({ at }) => at <= now).at(-1) ?? this.rounds[0];
    if (!current) return;
    const share = Math.max(0, (now - current.at) / before);
    const at = now - share * after;
    this.origin = Math.round(at * this.rate) - Math.round(current.number * after * this.rate);
    this.rounds = [current];
    current.at = this.roundAt(current.number);
  }

  /** The numbers of the rounds that are under way or placed ahead. */
  get numbers(): number[] {
    return this.rounds.map(({ number }) => number);
  }

  stop(): void {
    this.stopped = true;
    const now = this.options.audio.currentTime;
    for (const { source, gain, at } of this.sounding) {
      gain.gain.cancelScheduledValues(now);
      gain.gain.setTargetAtTime(0, now, FADE_S / 2);
      source.stop(at > now ? now : now + 5 * FADE_S);
    }
    for (const { strips } of this.rounds) for (const strip of strips.values()) strip.close();
  }
}
