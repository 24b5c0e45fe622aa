import type { RoundPlan, TryOut, TryOutPart } from "../api";

/*
 * How a part goes into the mix, by the same numbers as core/tryout/mixing.py: level, cuts, fades,
 * what pulls it down, mute. Hits are panned one by one before, for mono and stereo are panned
 * differently.
 */

/** A quality of one over root two; Web Audio wants it in dB. */
const FLAT_DB = 20 * Math.log10(Math.SQRT1_2);
const OPEN_LOW_HZ = 20;
const OPEN_HIGH_HZ = 20000;
export const CHOKE_S = 0.005;
const STEP_S = 0.012;

export const gainOf = (db: number) => 10 ** (db / 20);

/** The gain of a sample at a velocity: 1 at 100, 12 dB less for each halving. */
export const velocityGain = (velocity: number) => (velocity / 100) ** 2;

/** Whether a part is heard, by mute and solo. */
export function isHeard(document: TryOut, part: TryOutPart): boolean {
  return document.parts.some(({ solo }) => solo) ? part.solo : !part.mute;
}

interface Point {
  at: number;
  value: number;
}

/** Straight lines, or ramps even in dB, of which those that are past begin where they are now. */
function automate(param: AudioParam, points: Point[], now: number, even: "gain" | "db"): void {
  const next = points.findIndex(({ at }) => at > now);
  const before = next === -1 ? points.at(-1) : points[next - 1];
  const after = points[next];
  param.setValueAtTime(
    before ? valueBetween(before, after, now, even) : (points[0]?.value ?? 1),
    now,
  );
  if (next === -1) return;
  points.slice(next).forEach(({ at, value }, n) => {
    const earlier = points[next + n - 1];
    // What lies on one moment is a step; the first point is waited for at its own value.
    if (!earlier || earlier.at === at) param.setValueAtTime(value, at);
    else if (even === "gain") param.linearRampToValueAtTime(value, at);
    else param.exponentialRampToValueAtTime(value, at);
  });
}

function valueBetween(before: Point, after: Point | undefined, at: number, even: "gain" | "db") {
  if (!after || after.at === before.at) return before.value;
  const share = (at - before.at) / (after.at - before.at);
  return even === "gain"
    ? before.value + (after.value - before.value) * share
    : before.value * (after.value / before.value) ** share;
}

/** The nodes of one part in one round. */
export class Strip {
  readonly input: GainNode;
  private readonly mute: GainNode;
  private readonly nodes: AudioNode[];
  private sounding = 0;
  private closed = false;

  constructor(
    private readonly audio: BaseAudioContext,
    out: AudioNode,
    document: TryOut,
    part: TryOutPart,
    plan: RoundPlan,
    roundAt: number,
  ) {
    const now = audio.currentTime;
    this.input = new GainNode(audio, { gain: levelOf(part) });
    this.mute = new GainNode(audio, { gain: isHeard(document, part) ? 1 : 0 });
    this.nodes = [
      this.input,
      ...cuts(audio, part),
      ...fades(audio, part, roundAt, document.length_s, now),
      ...plan.ducks
        .filter((duck) => duck.part === part.id)
        .map((duck) => ducking(audio, duck.points, roundAt, now)),
      this.mute,
    ];
    this.nodes.reduce((from, to) => from.connect(to));
    this.mute.connect(out);
  }

  /** What can be heard at once in what sounds already. */
  follow(document: TryOut, part: TryOutPart): void {
    const now = this.audio.currentTime;
    this.input.gain.setTargetAtTime(levelOf(part), now, STEP_S);
    this.mute.gain.setTargetAtTime(isHeard(document, part) ? 1 : 0, now, STEP_S / 3);
  }

  begun(): void {
    this.sounding += 1;
  }

  ended(): void {
    this.sounding -= 1;
    this.letGo();
  }

  /** Nothing more begins in it; it goes once all in it has ended. */
  close(): void {
    this.closed = true;
    this.letGo();
  }

  private letGo(): void {
    if (!this.closed || this.sounding > 0) return;
    for (const node of this.nodes) node.disconnect();
  }
}

const levelOf = (part: TryOutPart) => (part.invert ? -1 : 1) * gainOf(part.level_db);

/** A part's low and high cut, those that are on. */
export function cuts(audio: BaseAudioContext, part: TryOutPart): AudioNode[] {
  const filter = (type: BiquadFilterType, frequency: number) =>
    new BiquadFilterNode(audio, { type, frequency, Q: FLAT_DB });
  return [
    ...(part.low_cut_hz > OPEN_LOW_HZ ? [filter("highpass", part.low_cut_hz)] : []),
    ...(part.high_cut_hz < OPEN_HIGH_HZ ? [filter("lowpass", part.high_cut_hz)] : []),
  ];
}

function fades(
  audio: BaseAudioContext,
  part: TryOutPart,
  roundAt: number,
  lengthS: number,
  now: number,
): AudioNode[] {
  const ramp = (from: Point, to: Point) => {
    const node = new GainNode(audio);
    automate(node.gain, [from, to], now, "gain");
    return node;
  };
  const end = roundAt + lengthS;
  return [
    ...(part.fade_in_s > 0
      ? [ramp({ at: roundAt, value: 0 }, { at: roundAt + part.fade_in_s, value: 1 })]
      : []),
    ...(part.fade_out_s > 0
      ? [ramp({ at: end - part.fade_out_s, value: 1 }, { at: end, value: 0 })]
      : []),
  ];
}

function ducking(
  audio: BaseAudioContext,
  points: RoundPlan["ducks"][number]["points"],
  roundAt: number,
  now: number,
): AudioNode {
  const node = new GainNode(audio);
  const placed = points.map(({ at_s, gain_db }) => ({
    at: roundAt + at_s,
    value: gainOf(gain_db),
  }));
  automate(node.gain, placed, now, "db");
  return node;
}
