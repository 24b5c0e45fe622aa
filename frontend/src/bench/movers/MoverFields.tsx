import { X } from "lucide-react";
import type { Curve, Declarations, Link, Mover } from "../../api/types";
import { ValueField } from "../../ui/FieldRow";
import { formatValue, type Unit } from "../../ui/units";
import { PartFields } from "../PartFields";
import { Section } from "../Section";
import { edit, select, useBench } from "../store";
import { MoverCurve } from "./MoverCurve";
import {
  firstAmount,
  MOVER_NAMES,
  movedUnit,
  valueAt,
  withLink,
  withMover,
  withoutLink,
  withoutMover,
} from "./moverEdits";
import { MoverPicture } from "./MoverPicture";
import { StepBars } from "./StepBars";
import { type Target, targetsOf } from "./targets";

interface Props {
  mover: Mover;
  declarations: Declarations;
}

/** A mover: what it is, how it goes over the hit, and everything that it moves. */
export function MoverFields({ mover, declarations }: Props) {
  const change = (label: string, patch: object, how?: { gesture: string; moving: boolean }) =>
    edit(
      label,
      (sound) => withMover(sound, mover.id, (now) => ({ ...now, ...patch }) as Mover),
      how,
    );
  const needless = (name: string) =>
    "sync" in mover && ((name === "rate_hz" && mover.sync) || (name === "beats" && !mover.sync));
  const rename = (name: string) => {
    const next = name.trim().slice(0, 60);
    if (next !== "" && next !== mover.name) change(`${mover.name}: named ${next}`, { name: next });
  };
  const remove = () => {
    edit(`Mover removed: ${mover.name}`, (sound) => withoutMover(sound, mover.id));
    select({ kind: "main" });
  };
  return (
    <>
      <h2 className="flex items-center gap-2">
        <input
          aria-label="Name of the mover"
          className="min-w-0 flex-1 bg-transparent font-title text-[16px] font-semibold"
          key={mover.name}
          defaultValue={mover.name}
          maxLength={60}
          onBlur={(event) => rename(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
        <span className="text-ink-2">{MOVER_NAMES[mover.kind].toLowerCase()}</span>
        <button
          type="button"
          aria-label={`Remove ${mover.name}`}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={remove}
        >
          <X size={13} aria-hidden />
        </button>
      </h2>
      <MoverPicture mover={mover} />
      <Links mover={mover} declarations={declarations} />
      <Section title="Settings">
        {mover.kind === "follower" && <Followed mover={mover} />}
        {mover.kind === "steps" && (
          <StepBars
            values={mover.values}
            onChange={(values, how) => change(`${mover.name}: steps drawn`, { values }, how)}
          />
        )}
        <PartFields
          owner={mover.name}
          partId={mover.id}
          declaration={declarations.movers[mover.kind]}
          part={mover}
          except={["name"]}
          disabled={needless}
          onChange={change}
        />
        {mover.kind === "curve" && (
          <MoverCurve
            name={mover.name}
            curve={mover.curve}
            onChange={(what: string, curve: Curve) => change(`${mover.name}: ${what}`, { curve })}
          />
        )}
        {mover.kind === "lfo" && mover.shape === "drawn" && (
          <MoverCurve
            name={mover.name}
            curve={mover.drawn}
            onChange={(what: string, drawn: Curve) => change(`${mover.name}: ${what}`, { drawn })}
          />
        )}
      </Section>
    </>
  );
}

function Followed({ mover }: { mover: Extract<Mover, { kind: "follower" }> }) {
  const layers = useBench((state) => state.document?.layers);
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Follows
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={mover.layer}
        onChange={({ target }) =>
          edit(`${mover.name}: follows another layer`, (sound) =>
            withMover(sound, mover.id, (now) => ({ ...now, layer: target.value }) as Mover),
          )
        }
      >
        {layers?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

function Links({ mover, declarations }: Props) {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const targets = targetsOf(sound, declarations);
  const own = sound.links.filter((link) => link.mover === mover.id);
  const free = targets.filter(
    ({ target }) =>
      !own.some((link) => link.target === target) && !target.startsWith(`${mover.id}.`),
  );
  const add = (target: string) => {
    const found = free.find((one) => one.target === target);
    if (!found) return;
    const amount = firstAmount(found.parameter, valueAt(sound, target));
    edit(`${found.owner}: ${found.parameter.label} moved by ${mover.name}`, (now) =>
      withLink(now, { mover: mover.id, target, amount, bend: 0, scaled_by: null }),
    );
  };
  return (
    <Section title="Moves" aside={own.length === 0 ? "nothing yet" : ""}>
      <ul
        className="grid grid-cols-[minmax(0,1fr)] gap-1.5"
        aria-label={`What ${mover.name} moves`}
      >
        {own.map((link) => {
          const found = targets.find(({ target }) => target === link.target);
          return found && <LinkRow key={link.target} link={link} found={found} />;
        })}
      </ul>
      <select
        aria-label={`Let ${mover.name} move`}
        className="mt-1 h-6 w-full rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value=""
        onChange={(event) => add(event.target.value)}
      >
        <option value="">+ link to…</option>
        {free.map(({ target, owner, parameter }) => (
          <option key={target} value={target}>
            {owner}: {parameter.label}
          </option>
        ))}
      </select>
    </Section>
  );
}

function LinkRow({ link, found }: { link: Link; found: Target }) {
  const sound = useBench((state) => state.document);
  const trace = useBench((state) => state.details?.moved[link.target]);
  const { owner, parameter } = found;
  const name = `${owner}: ${parameter.label}`;
  const unit = movedUnit(parameter);
  const step = unit === "percent" ? 0.05 : unit === "octave" ? 0.1 : 1;
  const range = { ...parameter, unit, minimum: -240, maximum: 240, step, whole: false };
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
          parameter={range}
          value={link.amount}
          context={{ tempoBpm: sound?.tempo_bpm ?? 120 }}
          onNudge={(direction, event) =>
            setAmount(link.amount + direction * step * (event.shiftKey ? 10 : 1))
          }
          onValue={setAmount}
        />
        <button
          type="button"
          aria-label={`Remove the link to ${name}`}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={() => edit(`${name}: no longer moved`, (now) => withoutLink(now, link))}
        >
          <X size={12} aria-hidden />
        </button>
      </div>
      <div className="flex items-center gap-2 text-[11.5px] text-ink-2">
        <span className="figure min-w-0 flex-1 truncate" title="The range that is really reached">
          {link.amount === 0 ? "no effect: amount is 0" : rangeWords(values, parameter.unit)}
        </span>
        <label className="inline-flex items-center gap-1">
          bend
          <ValueField
            id={`${link.mover}-${link.target}-bend`}
            label={`Bend on ${name}`}
            className="w-[40px]"
            parameter={{ ...range, unit: "", minimum: -10, maximum: 10, step: 0.5 }}
            value={link.bend}
            context={{ tempoBpm: 120 }}
            onNudge={(direction) => set({ bend: link.bend + direction * 0.5 }, "bend")}
            onValue={(bend) => set({ bend }, `bend ${formatValue(bend, "")}`)}
          />
        </label>
        <select
          aria-label={`What scales the link to ${name}`}
          title="A second mover scales the amount"
          className="h-6 max-w-[84px] rounded-sm border border-line-strong bg-sheet px-0.5"
          value={link.scaled_by ?? ""}
          onChange={({ target }) => set({ scaled_by: target.value || null }, "scaled")}
        >
          <option value="">in full</option>
          {sound?.movers
            .filter(({ id }) => id !== link.mover)
            .map(({ id, name: by }) => (
              <option key={id} value={id}>
                × {by}
              </option>
            ))}
        </select>
      </div>
    </li>
  );
}

function rangeWords(values: number[], unit: Unit): string {
  if (values.length === 0) return "";
  const [low, high] = [Math.min(...values), Math.max(...values)].map((v) => formatValue(v, unit));
  return low === high ? `at ${low}` : `${low} to ${high}`;
}
