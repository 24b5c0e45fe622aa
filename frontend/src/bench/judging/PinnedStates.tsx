import { ChevronDown } from "lucide-react";
import { useEffect, useState } from "react";
import type { Declarations, Sound } from "../../api";
import { ActionMenu } from "../../ui";
import { playBench } from "../playing";
import {
  completed,
  edit,
  useBench,
  type Pin,
  PIN_COUNT,
  pinsOf,
  setPin,
  usePins,
} from "../../sound";
import { mixedSound } from "./mixing";

export function pinPresent(place: number): void {
  const { document, shown, audition } = useBench.getState();
  if (!document) return;
  const loudnessLufs = shown === document ? (audition?.measures.loudness_lufs ?? null) : null;
  setPin(place, { document, loudnessLufs });
}

/** Go to a pinned state, as an edit that undo takes back; where it is there already, hear it again. */
export function goToPin(place: number): void {
  const pin = pinsOf(usePins.getState())[place];
  if (!pin) return;
  if (useBench.getState().document === pin.document) void playBench();
  else {
    // A pin may be older than the program; once completed it is the one that is compared with.
    const document = "buses" in pin.document ? pin.document : completed(pin.document);
    if (document !== pin.document) setPin(place, { ...pin, document });
    edit(`State ${place + 1}`, () => document);
  }
}

/** The loudness of a pinned state is known once it was heard. */
function useLoudnessOfPins(): void {
  useEffect(
    () =>
      useBench.subscribe(({ audition, shown }, before) => {
        if (!audition || audition === before.audition) return;
        pinsOf(usePins.getState()).forEach((pin, place) => {
          if (pin && pin.document === shown && pin.loudnessLufs === null)
            setPin(place, { ...pin, loudnessLufs: audition.measures.loudness_lufs });
        });
      }),
    [],
  );
}

/** Up to four states of the sound side by side: pin, switch, mix between two of them. */
export function PinnedStates({ declarations }: { declarations: Declarations }) {
  const soundId = useBench((state) => state.opened?.id ?? null);
  const document = useBench((state) => state.document);
  const pins = usePins(pinsOf);
  const matched = usePins((state) => state.matched);
  useEffect(() => {
    usePins.setState({ soundId });
  }, [soundId]);
  useLoudnessOfPins();
  const pinned = pins.flatMap((pin, place) => (pin ? [{ pin, place }] : []));
  return (
    <div className="flex items-center gap-2 text-[12px]" role="group" aria-label="Pinned states">
      <span>States</span>
      {Array.from({ length: PIN_COUNT }, (_, place) => (
        <PinButton
          key={place}
          place={place}
          pin={pins[place] ?? null}
          present={pins[place]?.document === document}
        />
      ))}
      {pinned.length > 0 && (
        <label className="inline-flex items-center gap-1" title="Match all states to the quietest">
          <input
            type="checkbox"
            className="size-4 accent-action"
            checked={matched}
            onChange={(event) => usePins.setState({ matched: event.target.checked })}
          />
          level-matched
        </label>
      )}
      {pinned.length > 1 && <Mix pinned={pinned} declarations={declarations} />}
    </div>
  );
}

function PinButton({ place, pin, present }: { place: number; pin: Pin | null; present: boolean }) {
  const number = place + 1;
  const look = present
    ? "border-ink bg-ink text-sheet"
    : pin
      ? "border-ink bg-sheet"
      : "border-dashed border-line-strong text-ink-2";
  return (
    <span className="inline-flex">
      <button
        type="button"
        aria-label={pin ? `Go to state ${number}` : `Pin the current sound as state ${number}`}
        aria-pressed={present}
        title={pin ? `Go to state ${number} (Shift ${number})` : `Pin it as state ${number}`}
        className={`min-h-6 min-w-6 rounded-control border px-1.5 ${look}`}
        onClick={() => (pin ? goToPin(place) : pinPresent(place))}
      >
        {number}
      </button>
      {pin && (
        <ActionMenu
          label={`More for state ${number}`}
          className="grid min-h-6 w-4 place-items-center rounded-sm hover:bg-band"
          anchor="top start"
          actions={[
            { label: "Pin the current sound here", act: () => pinPresent(place) },
            { label: "Clear", act: () => setPin(place, null) },
          ]}
        >
          <ChevronDown size={10} aria-hidden />
        </ActionMenu>
      )}
    </span>
  );
}

interface MixProps {
  pinned: { pin: Pin; place: number }[];
  declarations: Declarations;
}

/** A slider between two pinned states. */
function Mix({ pinned, declarations }: MixProps) {
  const [chosen, setChosen] = useState<[number, number] | null>(null);
  const [part, setPart] = useState(0.5);
  const places = pinned.map(({ place }) => place);
  const kept = chosen && chosen.every((place) => places.includes(place)) ? chosen : null;
  const [from, to] = kept ?? [places[0] ?? 0, places[1] ?? 1];
  const documentOf = (place: number): Sound | undefined =>
    pinned.find((one) => one.place === place)?.pin.document;
  const mix = (next: number, moving: boolean) => {
    const [a, b] = [documentOf(from), documentOf(to)];
    if (!a || !b) return;
    setPart(next);
    edit(
      `Mix of states ${from + 1} and ${to + 1}: ${Math.round(next * 100)} %`,
      () => mixedSound(a, b, next, declarations),
      { gesture: `mix-${from}-${to}`, moving },
    );
  };
  const select = (side: 0 | 1) => (
    <select
      aria-label={side === 0 ? "Mix from state" : "Mix to state"}
      className="h-6 rounded-sm border border-line-strong bg-sheet px-0.5"
      value={side === 0 ? from : to}
      onChange={(event) => {
        const place = Number(event.target.value);
        setChosen(side === 0 ? [place, to] : [from, place]);
      }}
    >
      {places.map((place) => (
        <option key={place} value={place}>
          {place + 1}
        </option>
      ))}
    </select>
  );
  return (
    <span className="inline-flex items-center gap-1.5">
      Mix {select(0)}
      <input
        type="range"
        aria-label="Mix of two states"
        aria-valuetext={`${Math.round(part * 100)} %`}
        min={0}
        max={100}
        value={Math.round(part * 100)}
        className="w-28 accent-action"
        onChange={(event) => mix(Number(event.target.value) / 100, true)}
        onPointerUp={() => mix(part, false)}
        onKeyUp={() => mix(part, false)}
        onDoubleClick={() => mix(0.5, false)}
      />
      {select(1)}
      <span className="figure w-9 text-right">{Math.round(part * 100)} %</span>
    </span>
  );
}
