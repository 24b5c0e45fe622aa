import { X } from "lucide-react";
import { useState } from "react";
import type { Declarations, Link, Parameter, Sound } from "../../api";
import { ValueField, formatValue, type Unit } from "../../ui";
import { playInRow } from "../playing";
import {
  edit,
  useBench,
  curveMovers,
  firstAmount,
  movedUnit,
  withLink,
  withoutLink,
  heldLink,
  linkRange,
  type Range,
  withLinkRange,
  isFollowed,
  mayMove,
  type Target,
} from "../../sound";

interface Props {
  link: Link;
  found: Target;
  sound: Sound;
  declarations: Declarations;
}

/** One link: by how much it moves, over which range, how bent, and by what it is scaled. */
export function LinkRow({ link, found, sound, declarations }: Props) {
  const trace = useBench((state) => state.details?.moved[link.target]);
  const { owner, parameter } = found;
  const name = `${owner}: ${parameter.label}`;
  const unit = movedUnit(parameter, link.law);
  const laws = lawsOf(link.target, parameter);
  const step = unit === "percent" ? 0.05 : unit === "octave" ? 0.1 : 1;
  const wide = { ...parameter, unit, minimum: -240, maximum: 240, step, whole: false };
  const set = (patch: Partial<Link>, words: string) =>
    edit(`${name}: ${words}`, (now) => withLink(now, { ...link, ...patch }));
  const setAmount = (amount: number) =>
    set({ amount: Number(amount.toPrecision(6)) }, `moved by ${formatValue(amount, unit)}`);
  const values = trace?.map(([, value = 0]) => value) ?? [];
  return (
    <li className="rounded-control border border-line bg-sheet px-2 py-1">
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1 truncate" title={name}>
          {name}
        </span>
        <ValueField
          id={`${link.mover}-${link.target}`}
          label={`Amount on ${name}`}
          className="w-[76px]"
          parameter={wide}
          value={link.amount}
          context={{ tempoBpm: sound.tempo_bpm }}
          onNudge={(direction, event) =>
            setAmount(link.amount + direction * step * (event.shiftKey ? 10 : 1))
          }
          onValue={setAmount}
        />
        <button
          type="button"
          aria-label={`Remove the link to ${name}`}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={() => edit(`${name}: link removed`, (now) => withoutLink(now, link))}
        >
          <X size={12} aria-hidden />
        </button>
      </div>
      {laws.length > 1 && (
        <label className="flex min-h-6 items-center justify-between text-[11.5px] text-ink-2">
          moves
          <select
            aria-label={`Law of the link to ${name}`}
            className="h-6 rounded-sm border border-line-strong bg-sheet px-0.5"
            value={link.law}
            onChange={({ target }) => {
              const law = target.value as Link["law"];
              const amount = law === "amplitude" ? 1 : firstAmount(parameter, 0, law);
              set({ law, amount }, LAW_WORDS[law]);
            }}
          >
            {laws.map((law) => (
              <option key={law} value={law}>
                {law === "plain" && parameter.unit === "dB" ? "in dB" : LAW_WORDS[law]}
              </option>
            ))}
          </select>
        </label>
      )}
      <Ends link={link} name={name} parameter={parameter} sound={sound} />
      <div className="flex items-center gap-2 text-[11.5px] text-ink-2">
        <label className="inline-flex items-center gap-1">
          bend
          <ValueField
            id={`${link.mover}-${link.target}-bend`}
            label={`Bend on ${name}`}
            className="w-[40px]"
            parameter={{ ...wide, unit: "", minimum: -10, maximum: 10, step: 0.5 }}
            value={link.bend}
            context={{ tempoBpm: 120 }}
            onNudge={(direction) => set({ bend: link.bend + direction * 0.5 }, "bend")}
            onValue={(bend) => set({ bend }, `bend ${formatValue(bend, "")}`)}
          />
        </label>
        <select
          aria-label={`Scale the link to ${name}`}
          title="A second mover scales the amount"
          className="ml-auto h-6 max-w-[120px] rounded-sm border border-line-strong bg-sheet px-0.5"
          value={link.scaled_by ?? ""}
          onChange={({ target }) => set({ scaled_by: target.value || null }, "scaled")}
        >
          <option value="">not scaled</option>
          {[...sound.movers, ...curveMovers(sound).map((one) => ({ ...one, kind: "drawn" }))]
            .filter(
              (one) => one.id !== link.mover && mayMove(sound, one, link.target, declarations),
            )
            .map(({ id, name: by }) => (
              <option key={id} value={id}>
                × {by}
              </option>
            ))}
        </select>
      </div>
      <p className="figure text-[11px] text-ink-2" title="The range actually reached">
        {link.amount === 0 ? "no effect: amount is 0" : reachedWords(values, parameter.unit)}
      </p>
      {!isFollowed(sound, link.target, declarations) && (
        <p className="text-[11px] text-ink-2">Set once, at the start of each hit.</p>
      )}
    </li>
  );
}

const LAW_WORDS: Record<Link["law"], string> = {
  plain: "in octaves",
  linear: "in Hz",
  amplitude: "as amplitude, to silence",
};

/** The ways in which a target can be moved. */
function lawsOf(target: string, parameter: Parameter): Link["law"][] {
  const [, ...path] = target.split(".");
  if (LEVELS.includes(path.join("."))) return ["plain", "amplitude"];
  return parameter.octaves && parameter.unit === "Hz" ? ["plain", "linear"] : ["plain"];
}

const LEVELS = ["level_db", "low_db", "high_db"];

interface EndsProps {
  link: Link;
  name: string;
  parameter: Parameter;
  sound: Sound;
}

const PLACES = ["least", "middle", "most"];

/** Both ends of the range, typed in the target's own unit, and heard one after the other. */
function Ends({ link, name, parameter, sound }: EndsProps) {
  const [turn, setTurn] = useState<number | null>(null);
  const range = linkRange(sound, link, parameter);
  if (!range) return null;
  const set = (patch: Partial<Range>) => {
    const next = { ...range, ...patch };
    const words = `${formatValue(next.from, parameter.unit)} to ${formatValue(next.to, parameter.unit)}`;
    edit(`${name}: moved from ${words}`, (now) => withLinkRange(now, link, parameter, next));
  };
  // A pitch is moved away from where its curve leaves it.
  const fixed = link.target.endsWith(".pitch_st");
  return (
    <div className="flex items-center gap-1 text-[11.5px] text-ink-2">
      {(["from", "to"] as const).map((end) => (
        <label key={end} className="inline-flex items-center gap-1">
          {end}
          <ValueField
            id={`${link.mover}-${link.target}-${end}`}
            label={`${name} ${end}`}
            className="w-[72px]"
            parameter={parameter}
            value={range[end]}
            disabled={fixed}
            context={{ tempoBpm: sound.tempo_bpm }}
            onNudge={(direction) => set({ [end]: range[end] + direction * parameter.step })}
            onValue={(value) => set({ [end]: value })}
          />
        </label>
      ))}
      <button
        type="button"
        aria-label={`Hear ${name} at its minimum, middle and maximum`}
        title="Hear minimum, middle and maximum"
        className="ml-auto min-h-6 rounded-sm border border-line-strong px-1 text-[10.5px] hover:bg-band"
        onClick={() =>
          void playInRow(
            [0, 0.5, 1].map((at) => heldLink(sound, link, at)),
            setTurn,
          )
        }
      >
        {turn === null ? "hear range" : PLACES[turn]}
      </button>
    </div>
  );
}

function reachedWords(values: number[], unit: Unit): string {
  if (values.length === 0) return "";
  const [low, high] = [Math.min(...values), Math.max(...values)].map((v) => formatValue(v, unit));
  return low === high ? `reached: ${low}` : `reached: ${low} to ${high}`;
}
