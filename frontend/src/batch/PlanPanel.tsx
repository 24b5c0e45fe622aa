import { useState } from "react";
import type { PlanFigures, PlanProbe } from "../api";
import { BATCH_KINDS } from "../api";
import { RevisionSelect } from "../sound";
import { FieldRow } from "../ui";
import { Axes } from "./Axes";
import { MemberRulesForm } from "./MemberRulesForm";
import { SoundPicker } from "./SoundPicker";
import { Spreads } from "./Spreads";
import { editPlan, useBatch } from "./store";

interface Props {
  figures: PlanFigures | undefined;
  probe: PlanProbe | undefined;
  probing: boolean;
}

const CONTEXT = { tempoBpm: 120 };

const numberOf = (part: keyof typeof BATCH_KINDS, name: string) =>
  BATCH_KINDS[part].parameters.find((one) => one.name === name);

/** What is varied and how, what every member gets. */
export function PlanPanel({ figures, probe, probing }: Props) {
  const plan = useBatch((state) => state.plan);
  if (!plan) return null;
  const seed = numberOf("batch", "seed");
  const single = plan.sounds.length === 1;
  return (
    <aside aria-label="Plan" className="min-h-0 overflow-y-auto bg-panel px-4 py-3">
      {figures?.problems
        .filter(({ path }) => !path.includes(".axes.") && !path.includes(".spreads."))
        .map((one) => (
          <p key={one.path + one.message} role="alert" className="mb-2 text-[12.5px] text-bad">
            {one.message}
          </p>
        ))}
      {plan.sounds.map((planned, index) => {
        const found = figures?.sounds.find(({ id }) => id === planned.id);
        const problems = (figures?.problems ?? []).filter(({ path }) =>
          path.startsWith(`sounds.${index}.`),
        );
        return (
          <section key={planned.id} className="mb-3">
            <SoundHead id={planned.id} name={found?.name ?? ""} single={single} />
            {planned.sound !== null && (
              <RevisionSelect
                sound={planned.sound}
                revision={planned.revision}
                draft="Draft at each run"
                onChange={(revision) =>
                  editPlan(
                    `${found?.name ?? "Sound"}: ${revision === null ? "draft" : `revision ${revision}`}`,
                    (now) => ({
                      ...now,
                      sounds: now.sounds.map((one) =>
                        one.id === planned.id ? { ...one, revision } : one,
                      ),
                    }),
                  )
                }
              />
            )}
            <Axes planned={planned} index={index} found={found} problems={problems} />
            <Spreads planned={planned} index={index} found={found} problems={problems} />
          </section>
        );
      })}
      <AddSound />
      <Difference probe={probe} probing={probing} />
      <MemberRulesForm rules={plan.members} />
      {seed && (
        <div className="mt-3">
          <FieldRow
            parameter={seed}
            value={plan.seed}
            context={CONTEXT}
            onChange={({ value }) =>
              editPlan(`Seed: ${value}`, (now) => ({ ...now, seed: value }), "seed")
            }
          />
          <p className="text-[11.5px] text-ink-2">The same plan and seed give the same bytes.</p>
        </div>
      )}
    </aside>
  );
}

function SoundHead({ id, name, single }: { id: string; name: string; single: boolean }) {
  return (
    <div className="mb-1 flex items-center gap-2">
      <h2 className="min-w-0 truncate font-title text-[15px] font-semibold">
        {name || "A sound that is gone"}
      </h2>
      {!single && (
        <button
          type="button"
          className="ml-auto text-[12px] underline"
          onClick={() =>
            editPlan(`${name} removed`, (now) => ({
              ...now,
              sounds: now.sounds.filter((one) => one.id !== id),
            }))
          }
        >
          remove
        </button>
      )}
    </div>
  );
}

function AddSound() {
  const [picking, setPicking] = useState(false);
  const count = useBatch((state) => state.plan?.sounds.length ?? 0);
  if (count >= 8) return null;
  const add = (sound: number) =>
    editPlan("Sound added", (now) => {
      const used = new Set(now.sounds.map(({ id }) => id));
      const id = [..."abcdefghij"].find((one) => !used.has(one)) ?? "z";
      const first = now.sounds[0];
      const draws = first?.draws ?? 1;
      return {
        ...now,
        sounds: [
          ...now.sounds,
          {
            id,
            sound,
            revision: null,
            axes: first?.axes.filter(({ kind }) => kind !== "macro") ?? [],
            spreads: [],
            draws,
          },
        ],
      };
    });
  return (
    <>
      <button
        type="button"
        className="mb-3 min-h-6 text-[12.5px] text-action underline"
        onClick={() => setPicking(true)}
      >
        + another sound
      </button>
      <SoundPicker
        open={picking}
        title="Which sound shall be varied too?"
        onClose={() => setPicking(false)}
        onPick={(sound) => {
          setPicking(false);
          add(sound);
        }}
      />
    </>
  );
}

const APART = 0.5;

function Difference({ probe, probing }: { probe: PlanProbe | undefined; probing: boolean }) {
  const plan = useBatch((state) => state.plan);
  const parameter = numberOf("batch", "difference");
  if (!plan || !parameter) return null;
  const apart = probe?.median_distance;
  const spread = plan.sounds.some(({ spreads }) => spreads.length > 0);
  if (!spread) return null;
  return (
    <div className="mt-1 mb-3">
      <h3 className="mb-0.5 text-[12px] font-semibold">How different</h3>
      <FieldRow
        parameter={{ ...parameter, label: "Spreads" }}
        value={plan.difference}
        context={CONTEXT}
        onChange={({ value, moving }) =>
          editPlan(
            `How different: ${Math.round(100 * value)} %`,
            (now) => ({ ...now, difference: value }),
            moving ? "difference" : null,
          )
        }
      />
      <p role="status" className="text-[11.5px] text-ink-2">
        {apart == null
          ? probing
            ? "Measuring…"
            : " "
          : `Median distance ${apart.toFixed(2)}: ${apartWords(apart)}. From about ${APART} on, members sound different.`}
      </p>
      {plan.narrow < 1 && <Narrow />}
    </div>
  );
}

function Narrow() {
  const plan = useBatch((state) => state.plan);
  const picked = useBatch((state) => state.picked.length);
  const parameter = numberOf("batch", "narrow");
  if (!plan || !parameter || picked === 0) return null;
  return (
    <FieldRow
      parameter={parameter}
      value={plan.narrow}
      context={CONTEXT}
      onChange={({ value, moving }) =>
        editPlan(
          `Narrower: ${Math.round(100 * value)} %`,
          (now) => ({ ...now, narrow: value }),
          moving ? "narrow" : null,
        )
      }
    />
  );
}

function apartWords(distance: number): string {
  if (distance < 0.25) return "twins";
  if (distance < APART) return "hardly different";
  if (distance < 1.5) return "a family";
  return distance < 3 ? "far apart" : "strangers";
}
