import { X } from "lucide-react";
import { useState } from "react";
import type { Axis, PlanFigures, PlannedSound } from "../api";
import { ActionMenu, noteName } from "../ui";
import { sameAxis, withAxis, withSound } from "./edits";
import { editPlan } from "./store";
import { TypedField } from "./TypedField";
import { axisCount, axisText, readAxis } from "./typedRanges";

export interface PlannedProps {
  planned: PlannedSound;
  index: number;
  found: PlanFigures["sounds"][number] | undefined;
  problems: PlanFigures["problems"];
}

const NAMES: Record<Axis["kind"], string> = {
  note: "Note",
  velocity: "Velocity",
  hold: "Hold",
  hit: "Hits",
  macro: "Macro",
  rate: "Rate",
};
const EXAMPLES: Record<Axis["kind"], string> = {
  note: "C2–C5 by 3",
  velocity: "60, 90, 127",
  hold: "50 ms, 0.5 s",
  hit: "1–4",
  macro: "0, 50, 100 %",
  rate: "44100, 48000",
};
const KINDS = ["note", "velocity", "hold", "hit", "rate"] as const;

/** What multiplies: notes, velocities, holds, hits, macros, rates. */
export function Axes({ planned, index, found, problems }: PlannedProps) {
  const [opened, setOpened] = useState<Axis | null>(null);
  const macros = Object.entries(found?.macros ?? {});
  const shown =
    opened && !planned.axes.some((one) => sameAxis(one, opened))
      ? [...planned.axes, opened]
      : planned.axes;
  const add = (kind: Axis["kind"], macro = "") =>
    setOpened({ kind, ...(macro ? { macro } : {}), values: [], first: null, last: null, step: 1 });
  const free = [
    ...KINDS.map((kind) => ({ kind: kind as Axis["kind"], macro: "", label: NAMES[kind] })),
    ...macros.map(([macro, label]) => ({ kind: "macro" as const, macro, label: `Macro ${label}` })),
  ].filter(
    ({ kind, macro }) => !shown.some((one) => one.kind === kind && (one.macro ?? "") === macro),
  );
  return (
    <div className="mb-3">
      <h3 className="flex text-[12px] font-semibold">
        Axes <span className="ml-auto font-normal text-ink-2">multiply</span>
      </h3>
      {shown.map((axis) => (
        <AxisRow
          key={`${axis.kind} ${axis.macro ?? ""}`}
          axis={axis}
          label={
            axis.kind === "macro"
              ? (found?.macros[axis.macro ?? ""] ?? axis.macro ?? "")
              : NAMES[axis.kind]
          }
          planned={planned}
          problem={
            problems.find(
              ({ path }) => path === `sounds.${index}.axes.${planned.axes.indexOf(axis)}`,
            )?.message
          }
          onGone={() => setOpened(null)}
        />
      ))}
      {shown.length === 0 && found && (
        <p className="text-[11.5px] text-ink-2">
          The sound’s own hit: {noteName(found.note)}, velocity {found.velocity}
        </p>
      )}
      {free.length > 0 && (
        <ActionMenu
          className="min-h-6 text-[12.5px] text-action underline"
          anchor="bottom start"
          actions={free.map(({ kind, macro, label }) => ({ label, act: () => add(kind, macro) }))}
        >
          + axis
        </ActionMenu>
      )}
    </div>
  );
}

interface RowProps {
  axis: Axis;
  label: string;
  planned: PlannedSound;
  problem: string | undefined;
  onGone: () => void;
}

function AxisRow({ axis, label, planned, problem, onGone }: RowProps) {
  const put = (next: Axis) =>
    editPlan(`${label}: ${axisText(next) || "removed"}`, (plan) =>
      withSound(plan, planned.id, (sound) => withAxis(sound, next)),
    );
  return (
    <div className="flex min-h-6 items-start gap-1.5">
      <span className="w-[62px] shrink-0 truncate leading-6" title={label}>
        {label}
      </span>
      <TypedField
        label={`${label} axis`}
        className="flex-1"
        value={axisText(axis)}
        placeholder={EXAMPLES[axis.kind]}
        problem={problem}
        take={(typed) => {
          const read = readAxis(typed, axis.kind);
          if (!read.ok) return read.message;
          put({ ...axis, ...read.value });
          onGone();
          return null;
        }}
      />
      <span className="figure w-9 shrink-0 text-right leading-6 text-ink-2">
        ×{axisCount(axis)}
      </span>
      <button
        type="button"
        aria-label={`Remove ${label}`}
        className="grid size-6 shrink-0 place-items-center rounded-sm text-ink-2 hover:bg-band"
        onClick={() => {
          put({ ...axis, values: [], first: null, last: null });
          onGone();
        }}
      >
        <X size={12} aria-hidden />
      </button>
    </div>
  );
}
