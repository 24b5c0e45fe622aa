import { useEffect, useRef, useState } from "react";
import { api, errorText, resultOf, type PlacedHit, type RoundEvent, type TryOutPart } from "../api";
import { audioContext } from "../audio";
import {
  audioOf,
  cuts,
  editTryOut,
  gainOf,
  hitWish,
  velocityGain,
  type Heard,
  type RoundNow,
} from "../loop";
import { MidiMenu, playNotes } from "../midi";
import { Button, noteName } from "../ui";
import { pigmentOf } from "./PartLane";

/** Computer keys from left to right, two rows. */
const KEYS = "ZXCVBNMASDFGHJKLQWERTYUIOP".split("");
const FIRST_KEY = 36;
const FADE_S = 0.005;

/** The key of each part: its own, or the next free one from 36 on; as core/tryout/kit.py has it. */
export function keysOf(parts: readonly TryOutPart[]): Map<string, number> {
  const playable = parts.filter(({ plays }) => plays.kind !== "bed");
  const taken = new Set(playable.flatMap(({ key }) => (key === null ? [] : [key])));
  let next = FIRST_KEY;
  return new Map(
    playable.map((part) => {
      if (part.key !== null) return [part.id, part.key];
      while (taken.has(next)) next += 1;
      return [part.id, next++];
    }),
  );
}

/** The parts on keys: played by computer keys and MIDI, matched in loudness. */
export function KitPanel({ heard, round }: { heard: Heard; round: RoundNow }) {
  const { parts } = heard.document;
  const keys = keysOf(parts);
  const playable = parts.filter(({ id }) => keys.has(id));
  const [problem, setProblem] = useState<string | null>(null);
  const play = useKitPlaying(heard, round, setProblem);
  const match = async () => {
    try {
      setProblem(null);
      const body = { document: { ...heard.document }, drafts: [] };
      const { levels } = await resultOf(api.POST("/api/tryouts/levels", { body }));
      editTryOut("Loudness of all parts matched", (now) => ({
        ...now,
        parts: now.parts.map((part) => ({ ...part, level_db: levels[part.id] ?? part.level_db })),
      }));
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <div className="grid gap-2 py-2">
      <div className="flex flex-wrap gap-1.5" role="group" aria-label="Pads">
        {playable.map((part, n) => {
          const { glyph, colour } = pigmentOf(parts.indexOf(part));
          return (
            <button
              key={part.id}
              type="button"
              onPointerDown={() => play(part.id, 100)}
              onKeyDown={(event) => {
                if (event.key === "Enter") play(part.id, 100);
              }}
              className="grid min-h-14 w-[132px] content-between rounded-card border border-line-strong bg-sheet px-2 py-1 text-left hover:bg-panel"
            >
              <span className="truncate font-semibold">
                <span aria-hidden style={{ color: colour }}>
                  {glyph}
                </span>{" "}
                {part.name}
              </span>
              <span className="figure flex justify-between text-[11px] text-ink-2">
                <span>{noteName(keys.get(part.id) ?? FIRST_KEY)}</span>
                {part.choke > 0 && <span>choke {part.choke}</span>}
                <span>{KEYS[n] ?? ""}</span>
              </span>
            </button>
          );
        })}
        {playable.length === 0 && <p className="text-ink-2">Parts appear here as pads.</p>}
      </div>
      <div className="flex items-center gap-2">
        <Button disabled={playable.length < 2} onClick={() => void match()}>
          Match loudness
        </Button>
        <MidiMenu firstNotes={playable.map(({ id }) => keys.get(id) ?? FIRST_KEY)} />
        <span className="text-[12px] text-ink-2">
          The letters play the pads while this panel is open; MIDI plays them by their keys. Export
          as SFZ stands under More.
        </span>
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
      </div>
    </div>
  );
}

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest("input, select, textarea, [role=dialog]") !== null;

function useKitPlaying(heard: Heard, round: RoundNow, onProblem: (words: string) => void) {
  const sounding = useRef(new Set<{ choke: number; gain: GainNode }>());
  const turns = useRef(new Map<string, number>());
  const play = (id: string, velocity: number) => {
    const part = heard.document.parts.find((one) => one.id === id);
    const source = round.plan?.sources.find((one) => one.part === id);
    if (!part || !source || source.missing !== "") return;
    const event = eventOf(part, velocity, turns.current);
    audioOf(hitWish(heard, part, event, source)).then(
      (buffer) => strike(buffer, part, velocity, sounding.current),
      (error: unknown) => onProblem(errorText(error)),
    );
  };
  const latest = useRef({ play, parts: heard.document.parts });
  useEffect(() => {
    latest.current = { play, parts: heard.document.parts };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || isTyping(event.target)) return;
      const n = KEYS.indexOf(event.key.toUpperCase());
      const keys = [...keysOf(latest.current.parts).keys()];
      const id = keys[n];
      if (n >= 0 && id !== undefined) latest.current.play(id, 100);
    };
    window.addEventListener("keydown", press);
    const letGo = playNotes({
      on: (note, velocity) => {
        const found = [...keysOf(latest.current.parts)].find(([, key]) => key === note);
        if (found) latest.current.play(found[0], velocity);
      },
    });
    return () => {
      window.removeEventListener("keydown", press);
      letGo();
    };
  }, []);
  return play;
}

/** A hit as the part's first one is, at the velocity of the key; groups go on in turn. */
function eventOf(part: TryOutPart, velocity: number, turns: Map<string, number>): RoundEvent {
  const first: PlacedHit | undefined = part.hits[0];
  const { plays } = part;
  let sample: number | null = null;
  if (plays.kind === "group") {
    const count = plays.samples.length;
    const turn = turns.get(part.id) ?? 0;
    turns.set(part.id, turn + 1);
    const at =
      plays.choice === "velocity"
        ? Math.min(count - 1, Math.floor((velocity * count) / 128))
        : turn % count;
    sample = plays.samples[at] ?? null;
  }
  return {
    part: part.id,
    hit: 0,
    at_s: 0,
    notes: first?.notes ?? [],
    velocity,
    hold_s: first?.hold_s ?? null,
    macros: first?.macros ?? {},
    sample,
    until_s: null,
  };
}

function strike(
  buffer: AudioBuffer,
  part: TryOutPart,
  velocity: number,
  sounding: Set<{ choke: number; gain: GainNode }>,
): void {
  const audio = audioContext();
  void audio.resume();
  const now = audio.currentTime;
  for (const one of sounding)
    if (part.choke > 0 && one.choke === part.choke)
      one.gain.gain.setTargetAtTime(0, now, FADE_S / 2);
  const level = part.plays.kind === "sound" ? 1 : velocityGain(velocity);
  const source = new AudioBufferSourceNode(audio, { buffer });
  const loud = (part.invert ? -1 : 1) * level * gainOf(part.level_db);
  const gain = new GainNode(audio, { gain: loud });
  if (part.attack_s > 0) {
    gain.gain.setValueAtTime(0, now);
    gain.gain.linearRampToValueAtTime(loud, now + part.attack_s);
  }
  const pan = new StereoPannerNode(audio, { pan: part.pan });
  const nodes = [source, gain, pan, ...cuts(audio, part)];
  nodes.slice(1).reduce<AudioNode>((from, to) => from.connect(to), source);
  nodes.at(-1)?.connect(audio.destination);
  const one = { choke: part.choke, gain };
  sounding.add(one);
  source.onended = () => {
    sounding.delete(one);
    for (const node of nodes) node.disconnect();
  };
  source.start();
}
