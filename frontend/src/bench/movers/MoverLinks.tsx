import { X } from "lucide-react";
import type { Declarations, Link, Mover } from "../../api/types";
import { ValueField } from "../../ui/FieldRow";
import { formatValue, type Unit } from "../../ui/units";
import { Section } from "../Section";
import { edit, useBench } from "../store";
import { firstAmount, movedUnit, valueAt, withLink, withoutLink } from "./moverEdits";
import { type Target, targetsOf } from "./targets";

interface Props {
  mover: Mover;
  declarations: Declarations;
}

/** Everything that a mover moves, each with its amount, and what else it could move. */
export function MoverLinks({ mover, declarations }: Props) {
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
