import { Play, Plus, Repeat, Square, X } from "lucide-react";
import { useState } from "react";
import { MOST_SIDES, sideText, type ComparedAnswer, type Side } from "../api";
import { Button, Choice, DialogFrame, formatValue, parseValue } from "../ui";
import { BlindTest } from "./BlindTest";
import { deck, useDeck } from "./deck";
import { lettersOf, type Named } from "./letters";
import { SidePicker } from "./SidePicker";
import { shiftSide, useCompare } from "./store";
import { playOrStop } from "./useCompareKeys";

interface Props {
  sides: Side[];
  names: Named[];
  compared: ComparedAnswer | undefined;
  ready: boolean;
  onSides: (sides: Side[]) => void;
}

const MATCHES = [
  ["loudness", "same loudness"],
  ["peak", "same peak"],
  ["off", "levels as they are"],
] as const;

/** The sides, which of them is heard, how they are laid over each other. */
export function Header({ sides, names, compared, ready, onSides }: Props) {
  const { playing, heard } = useDeck();
  const { match, loop } = useCompare();
  const [adding, setAdding] = useState(false);
  const [testing, setTesting] = useState(false);
  const pill =
    "inline-flex min-h-8 min-w-0 items-center gap-1.5 rounded-control border px-2.5 text-[13px]";
  return (
    <header className="border-b border-line-strong bg-panel">
      <div role="group" aria-label="Sides" className="flex flex-wrap items-center gap-2 px-3 pt-2">
        {sides.map((side, n) => {
          const { letter, colour } = lettersOf(n);
          const named = names[n];
          const on = heard === n;
          return (
            <span
              key={`${n} ${sideText(side)}`}
              className={`${pill} pr-1 ${on ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
            >
              <button
                type="button"
                aria-pressed={on}
                title={`Hear ${letter} (${n + 1})`}
                className="flex min-h-7 min-w-0 items-center gap-1.5"
                onClick={() => deck.hear(n)}
              >
                <b style={on ? undefined : { color: colour }}>{letter}</b>
                <span className="max-w-44 truncate">{named?.name ?? "…"}</span>
                <span className={`text-[11.5px] ${on ? "opacity-80" : "text-ink-2"}`}>
                  {named?.detail}
                </span>
              </button>
              {side.kind === "sound" && (
                <button
                  type="button"
                  aria-label={`Effects of ${letter}`}
                  aria-pressed={!side.dry}
                  title={side.dry ? "Effects are off" : "Turn its effects off"}
                  className={`min-h-6 rounded-sm px-1 text-[10.5px] ${side.dry ? "line-through opacity-60" : ""}`}
                  onClick={() =>
                    onSides(sides.map((one, at) => (at === n ? { ...side, dry: !side.dry } : one)))
                  }
                >
                  FX
                </button>
              )}
              <button
                type="button"
                aria-label={`Remove side ${letter}`}
                className="grid size-6 place-items-center rounded-sm opacity-75 hover:opacity-100"
                onClick={() => onSides(sides.filter((_, place) => place !== n))}
              >
                <X size={12} aria-hidden />
              </button>
            </span>
          );
        })}
        {sides.length < MOST_SIDES && (
          <Button look="quiet" onClick={() => setAdding(true)}>
            <Plus size={13} aria-hidden /> Side
          </Button>
        )}
        <span className="flex-1" />
        <Button
          look="action"
          disabled={!ready}
          title="Hear sides without knowing which they are"
          onClick={() => {
            deck.stop();
            setTesting(true);
          }}
        >
          Blind test…
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 px-3 py-2 text-[12.5px]">
        <Button disabled={!ready} onClick={playOrStop} title="Play or stop (Space)">
          {playing ? <Square size={12} aria-hidden /> : <Play size={13} aria-hidden />}
          {playing ? "Stop" : "Play"}
        </Button>
        <button
          type="button"
          aria-pressed={loop}
          aria-label="Loop"
          title="Loop what is chosen on the ruler, or all (L)"
          className={`${pill} ${loop ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
          onClick={() => useCompare.setState({ loop: !loop })}
        >
          <Repeat size={13} aria-hidden />
        </button>
        <Mix sides={sides.length} />
        <button
          type="button"
          aria-pressed={heard === "difference"}
          title="Hear what is left where B is taken from A (0)"
          className={`${pill} ${heard === "difference" ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
          onClick={() => deck.hear(heard === "difference" ? 0 : "difference")}
        >
          A − B
        </button>
        <Choice
          label="Levels"
          hidden
          value={match}
          options={MATCHES}
          onChange={(value) => useCompare.setState({ match: value })}
        />
        {compared?.sides.slice(1).map((side, n) => (
          <Shift
            key={`${n} ${side.starts_s}`}
            side={n + 1}
            found={(compared.sides[0]?.starts_s ?? 0) - side.starts_s}
          />
        ))}
      </div>
      <DialogFrame open={adding} onClose={() => setAdding(false)} title="Another side" wide>
        <SidePicker
          label={`Side ${lettersOf(sides.length).letter}`}
          onPick={(side) => {
            setAdding(false);
            onSides([...sides, side]);
          }}
        />
      </DialogFrame>
      {testing && <BlindTest sides={sides} names={names} onClose={() => setTesting(false)} />}
    </header>
  );
}

/** Between the side that is heard and the next one. */
function Mix({ sides }: { sides: number }) {
  const { heard, mix } = useDeck();
  if (heard === "difference") return null;
  const from = lettersOf(heard).letter;
  const to = lettersOf((heard + 1) % sides).letter;
  return (
    <label className="inline-flex items-center gap-1.5" title={`Mix of ${from} and ${to}`}>
      <span aria-hidden>{from}</span>
      <input
        type="range"
        aria-label={`Mix of ${from} and ${to}`}
        min={0}
        max={100}
        value={Math.round(mix * 100)}
        className="w-24 accent-[var(--ink)]"
        onChange={(event) => deck.mix(Number(event.target.value) / 100)}
      />
      <span aria-hidden>{to}</span>
    </label>
  );
}

/** By how much a side is later than A: as found, or as typed; empty is as found again. */
function Shift({ side, found }: { side: number; found: number }) {
  const [typed, setTyped] = useState<string | null>(null);
  const { letter } = lettersOf(side);
  const set = useCompare((state) => state.shiftsS[side] ?? null) !== null;
  const put = (text: string) => {
    setTyped(null);
    if (text.trim() === "") return shiftSide(side, null);
    const read = parseValue(text, "s", { tempoBpm: 120 });
    if (read.ok) shiftSide(side, read.value);
  };
  return (
    <label className="inline-flex items-center gap-1.5">
      {letter} later by
      <input
        aria-label={`${letter} later by`}
        title={set ? "As typed; empty aligns it by itself again" : "As found; type another"}
        className={`figure h-7 w-20 rounded-sm border-b border-dotted border-ink-3 bg-transparent text-right ${set ? "font-semibold" : ""}`}
        value={typed ?? formatValue(Math.round(found * 1e5) / 1e5, "s")}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={(event) => typed !== null && put(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") put(event.currentTarget.value);
          if (event.key === "Escape") setTyped(null);
        }}
      />
    </label>
  );
}
