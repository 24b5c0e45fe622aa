import { X } from "lucide-react";
import { useState } from "react";
import type { PlanNumber, PlannedSound, Spread } from "../api";
import { api, BATCH_KINDS, errorText, resultOf } from "../api";
import { ActionMenu, FieldRow, formatValue, type Unit } from "../ui";
import type { PlannedProps } from "./Axes";
import { withoutSpread, withSound, withSpread } from "./edits";
import { NumberPicker } from "./NumberPicker";
import { editPlan, useBatch } from "./store";
import { TypedField } from "./TypedField";
import { readSpread, spreadText } from "./typedRanges";

const CONTEXT = { tempoBpm: 120 };
const SHAPES: Record<Spread["shape"], { label: string; path: string }> = {
  even: { label: "Even", path: "M1 11V4h22v7z" },
  bell: { label: "Bell, most near the middle", path: "M1 11C8 11 9 2 12 2s4 9 11 9z" },
  low: { label: "Towards the lower end", path: "M1 11V2l22 9z" },
  high: { label: "Towards the upper end", path: "M1 11L23 2v9z" },
};
const AIMS = [
  ["timbre", "Timbre, not level or pitch"],
  ["level_pitch", "Level and pitch, not timbre"],
] as const;

/** What scatters around the original. */
export function Spreads({ planned, index, found, problems }: PlannedProps) {
  const [picking, setPicking] = useState(false);
  const [measuring, setMeasuring] = useState(false);
  const draws = BATCH_KINDS.sound.parameters.find(({ name }) => name === "draws");
  const numbers = found?.numbers ?? [];
  const change = (label: string, edit: (sound: PlannedSound) => PlannedSound) =>
    editPlan(label, (plan) => withSound(plan, planned.id, edit));
  const suggest = async (aim: "timbre" | "level_pitch") => {
    const { plan } = useBatch.getState();
    if (!plan) return;
    setMeasuring(true);
    try {
      const body = { document: { ...plan }, sound: planned.id, aim };
      const answer = await resultOf(api.POST("/api/batches/suggestions", { body }));
      const spreads = answer.spreads as unknown as Spread[];
      const what = aim === "timbre" ? "timbre" : "level or pitch";
      if (spreads.length === 0)
        return useBatch.setState({
          problem: `None of the ${answer.measured} numbers that were measured changes the ${what} of this sound. Add one with + number.`,
        });
      change(`Spreads suggested: ${aim === "timbre" ? "timbre" : "level and pitch"}`, (sound) =>
        spreads.reduce(withSpread, { ...sound, draws: Math.max(sound.draws, 2) }),
      );
    } catch (error) {
      useBatch.setState({ problem: errorText(error) });
    } finally {
      setMeasuring(false);
    }
  };
  return (
    <div className="mb-2">
      <h3 className="flex text-[12px] font-semibold">
        Spreads <span className="ml-auto font-normal text-ink-2">scatter around the original</span>
      </h3>
      {planned.spreads.map((spread, n) => (
        <SpreadRow
          key={spread.target}
          spread={spread}
          planned={planned}
          number={numbers.find(({ target }) => target === spread.target)}
          clipped={found?.spreads[n]?.clipped ?? false}
          problem={problems.find(({ path }) => path === `sounds.${index}.spreads.${n}`)?.message}
        />
      ))}
      <div className="flex flex-wrap gap-x-3">
        <button
          type="button"
          className="min-h-6 text-[12.5px] text-action underline"
          onClick={() => setPicking(true)}
        >
          + number
        </button>
        {measuring ? (
          <span role="status" className="py-0.5 text-[12.5px] text-ink-2">
            Measuring the sound…
          </span>
        ) : (
          <ActionMenu
            className="min-h-6 text-[12.5px] text-action underline"
            anchor="bottom start"
            title="Measures which numbers change the sound, and how far"
            actions={AIMS.map(([aim, label]) => ({ label, act: () => void suggest(aim) }))}
          >
            Suggest spreads
          </ActionMenu>
        )}
      </div>
      {draws && planned.spreads.length > 0 && (
        <FieldRow
          parameter={draws}
          value={planned.draws}
          context={CONTEXT}
          onChange={({ value }) =>
            editPlan(
              `Draws: ${value}`,
              (plan) => withSound(plan, planned.id, (sound) => ({ ...sound, draws: value })),
              "draws",
            )
          }
        />
      )}
      <NumberPicker
        open={picking}
        numbers={numbers.filter(
          ({ target }) => !planned.spreads.some((one) => one.target === target),
        )}
        onClose={() => setPicking(false)}
        onPick={(number) => {
          setPicking(false);
          change(`${number.owner}: ${number.label} spread`, (sound) =>
            withSpread({ ...sound, draws: Math.max(sound.draws, 2) }, around(number)),
          );
        }}
      />
    </div>
  );
}

/** A first width: a fifth of the value, or of the range where the value is 0. */
function around(number: PlanNumber): Spread {
  const by =
    number.base !== 0 && number.scale !== "linear"
      ? 0.2 * Math.abs(number.base)
      : number.unit === "st"
        ? 0.5
        : number.unit === "dB"
          ? 2
          : 0.1 * Math.min(number.maximum - number.minimum, 20);
  const low = Math.max(number.minimum, number.base - by);
  const high = Math.min(number.maximum, number.base + by);
  const short = (value: number) => Number(value.toPrecision(3));
  return { target: number.target, low: short(low), high: short(high), shape: "bell", together: "" };
}

interface RowProps {
  spread: Spread;
  planned: PlannedSound;
  number: PlanNumber | undefined;
  clipped: boolean;
  problem: string | undefined;
}

function SpreadRow({ spread, planned, number, clipped, problem }: RowProps) {
  const label = number ? `${number.owner}: ${number.label}` : spread.target;
  const put = (next: Spread, words: string) =>
    editPlan(`${label}: ${words}`, (plan) =>
      withSound(plan, planned.id, (sound) => withSpread(sound, next)),
    );
  return (
    <div className="border-b border-line py-1">
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1 truncate" title={label}>
          {label}
        </span>
        <ActionMenu
          label={`Shape of ${label}: ${SHAPES[spread.shape].label}`}
          title={SHAPES[spread.shape].label}
          className="grid size-6 place-items-center rounded-sm hover:bg-band"
          anchor="bottom end"
          actions={[
            ...(Object.keys(SHAPES) as Spread["shape"][]).map((shape) => ({
              label: SHAPES[shape].label,
              on: shape === spread.shape,
              act: () => put({ ...spread, shape }, SHAPES[shape].label),
            })),
            {
              label: "Drawn together with the others so marked",
              on: spread.together !== "",
              act: () =>
                put(
                  { ...spread, together: spread.together === "" ? "together" : "" },
                  spread.together === "" ? "drawn together" : "drawn alone",
                ),
            },
          ]}
        >
          <svg width={24} height={12} aria-hidden className="text-ink-3">
            <path d={SHAPES[spread.shape].path} fill="currentColor" opacity={0.6} />
          </svg>
        </ActionMenu>
        <button
          type="button"
          aria-label={`Remove the spread of ${label}`}
          className="grid size-6 place-items-center rounded-sm text-ink-2 hover:bg-band"
          onClick={() =>
            editPlan(`${label}: spread removed`, (plan) =>
              withSound(plan, planned.id, (sound) => withoutSpread(sound, spread.target)),
            )
          }
        >
          <X size={12} aria-hidden />
        </button>
      </div>
      <div className="flex items-start gap-2">
        <span className="figure leading-6 whitespace-nowrap text-ink-2">
          {number ? formatValue(number.base, number.unit as Unit) : ""}
          {spread.together !== "" && <span title="Drawn together"> ∥</span>}
        </span>
        {number ? (
          <TypedField
            label={`Spread of ${label}`}
            className="flex-1"
            value={spreadText(spread, number)}
            problem={problem}
            take={(typed) => {
              const read = readSpread(typed, number);
              if (!read.ok) return read.message;
              put({ ...spread, ...read.value }, spreadText(read.value, number));
              return null;
            }}
          />
        ) : (
          <span role="alert" className="flex-1 text-[11px] text-bad">
            {problem}
          </span>
        )}
      </div>
      {clipped && number && (
        <p className="text-[11px] text-warn">
          clipped to {formatValue(number.minimum, number.unit as Unit)} –{" "}
          {formatValue(number.maximum, number.unit as Unit)}
        </p>
      )}
    </div>
  );
}
