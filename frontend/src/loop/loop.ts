import { create } from "zustand";
import { errorText, type RoundPlan } from "../api";
import { audioContext, stopPlaying } from "../audio";
import { audioOf, readyAudio, type Heard } from "./hits";
import { planOf, readyPlan } from "./plans";
import { LoopPlayer } from "./player";
import { wishesOf } from "./wishes";

/** How far ahead hits are placed; a page that is not seen wakes up once a second at best. */
const AHEAD_S = 0.6;
const AHEAD_HIDDEN_S = 2.5;
const EACH_MS = 80;
const START_S = 0.06;
/** What is heard this soon after a change has to be there before the change is taken over. */
const NEXT_S = 1.2;

interface LoopState {
  playing: boolean;
  /** Hits that are there, of those that are wanted before it begins; null where it plays. */
  loading: { done: number; of: number } | null;
  problem: string | null;
  /** By how many dB the whole is turned down, so that it never goes over full scale. */
  heldBackDb: number;
}

export const useLoop = create<LoopState>(() => ({
  playing: false,
  loading: null,
  problem: null,
  heldBackDb: 0,
}));

let player: LoopPlayer | null = null;
let current: Heard | null = null;
let timer: number | undefined;
let master: GainNode | null = null;
let turn = 0;

function output(): GainNode {
  const audio = audioContext();
  if (!master) {
    master = new GainNode(audio);
    master.connect(audio.destination);
  }
  return master;
}

/** Turn the whole down where its mix, by its measured peak, would go over full scale. */
export function holdBack(peakDb: number): void {
  const heldBackDb = Math.max(0, peakDb);
  if (useLoop.getState().heldBackDb === heldBackDb) return;
  useLoop.setState({ heldBackDb });
  output().gain.setTargetAtTime(10 ** (-heldBackDb / 20), audioContext().currentTime, 0.02);
}

/** Where in the round it is heard now, in seconds; null where nothing plays. */
export function loopPosition(): number | null {
  if (!player) return null;
  const audio = audioContext();
  const latency = audio.outputLatency || audio.baseLatency;
  return player.position(audio.currentTime - latency)?.atS ?? null;
}

async function loaded(heard: Heard, plan: RoundPlan, mine: number): Promise<boolean> {
  const wishes = wishesOf(heard, plan);
  let done = 0;
  useLoop.setState({ loading: { done, of: wishes.length }, problem: null });
  await Promise.all(
    wishes.map(async (wish) => {
      try {
        await audioOf(wish);
      } catch (error) {
        if (mine === turn) useLoop.setState({ problem: errorText(error) });
      }
      done += 1;
      if (mine === turn) useLoop.setState({ loading: { done, of: wishes.length } });
    }),
  );
  return mine === turn;
}

/** Play a try-out from its start, once the hits of its first round are there. */
export async function startLoop(heard: Heard): Promise<void> {
  stopLoop();
  stopPlaying();
  const mine = ++turn;
  current = heard;
  const audio = audioContext();
  void audio.resume();
  useLoop.setState({ playing: true, problem: null });
  try {
    const plan = await planOf(heard.document);
    if (!(await loaded(heard, plan, mine))) return;
    useLoop.setState({ loading: null });
    player = new LoopPlayer(
      {
        audio,
        out: output(),
        planOf: (wanted, round) => planOf(wanted.document, round),
        onProblem: (problem) => useLoop.setState({ problem }),
      },
      current,
      current === heard ? plan : await planOf(current.document),
      audio.currentTime + START_S,
    );
    fill();
    timer = window.setInterval(fill, EACH_MS);
  } catch (error) {
    if (mine !== turn) return;
    stopLoop();
    useLoop.setState({ problem: errorText(error) });
  }
}

function fill(): void {
  if (!player) return;
  const ahead = document.hidden ? AHEAD_HIDDEN_S : AHEAD_S;
  player.fill(audioContext().currentTime + ahead);
  if (player.finished) stopLoop();
}

export function stopLoop(): void {
  turn += 1;
  window.clearInterval(timer);
  player?.stop();
  player = null;
  current = null;
  useLoop.setState({ playing: false, loading: null });
}

let changing = false;
let wanted: Heard | null = null;
let goingTo: Heard | null = null;

/** Let what plays go over to something changed, from the next hit on and without a gap. */
export async function changeLoop(heard: Heard): Promise<void> {
  if (!current || heard === (wanted ?? goingTo ?? current)) return;
  wanted = heard;
  if (changing) return;
  changing = true;
  try {
    // Always the newest of what came meanwhile.
    while (wanted && current) {
      const next: Heard = wanted;
      wanted = null;
      goingTo = next;
      await goOver(next);
      goingTo = null;
    }
  } finally {
    goingTo = null;
    changing = false;
  }
}

/** What comes later in the round, one by one, so that the next edit has nothing to wait for. */
async function fetchTheRest(heard: Heard, plan: RoundPlan, fromS: number): Promise<void> {
  for (const wish of wishesOf(heard, plan, fromS)) {
    if (current !== heard) return;
    await audioOf(wish).catch(() => undefined);
  }
}

async function goOver(heard: Heard): Promise<void> {
  const mine = turn;
  try {
    const now = player;
    if (!now) {
      current = heard;
      return;
    }
    const numbers = now.numbers;
    // What is there is taken at once: a promise is heard of only after the page was drawn anew.
    const there = numbers
      .map((one) => readyPlan(heard.document, one))
      .filter((one) => one !== null);
    const found =
      there.length === numbers.length
        ? there
        : await Promise.all(numbers.map((one) => planOf(heard.document, one)));
    const plans = new Map(numbers.map((one, n) => [one, found[n]] as [number, RoundPlan]));
    const at = (loopPosition() ?? 0) + 0.05;
    const first = found.at(0);
    if (!first) return;
    const soon = {
      ...first,
      events: first.events.filter(({ at_s }) => {
        const ahead = (at_s - at + first.length_s) % first.length_s;
        return ahead < Math.min(NEXT_S, first.length_s);
      }),
    };
    const missing = wishesOf(heard, soon, at).filter((one) => !readyAudio(one));
    await Promise.all(missing.map((one) => audioOf(one)));
    if (mine !== turn || player !== now) return;
    current = heard;
    now.change(heard, plans);
    fill();
    useLoop.setState({ problem: null });
    void fetchTheRest(heard, first, at);
  } catch (error) {
    if (mine === turn) useLoop.setState({ problem: errorText(error) });
  }
}
