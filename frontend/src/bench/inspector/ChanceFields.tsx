import { Dices } from "lucide-react";
import type { Parameter, Sound } from "../../api";
import { Button, ValueField } from "../../ui";
import { edit } from "../../sound";

const SEED: Parameter = {
  name: "seed",
  label: "Seed",
  unit: "",
  minimum: 0,
  maximum: 2 ** 53 - 1,
  default: 1,
  scale: "linear",
  step: 1,
  whole: true,
  help: "The same seed and hit number always give the same sound.",
};

const NUMBER: Parameter = {
  ...SEED,
  name: "number",
  label: "Hit number",
  minimum: 1,
  maximum: 1e6,
};

/** All that is left to chance: printed, typed, and rolled again; undo brings the last one back. */
export function ChanceFields({ sound }: { sound: Sound }) {
  const setSeed = (seed: number) => edit(`Seed ${seed}`, (now) => ({ ...now, seed }));
  const setNumber = (number: number) =>
    edit(`Hit number ${number}`, (now) => ({ ...now, hit: { ...now.hit, number } }));
  const nextNumber = Math.min(1e6, sound.hit.number + 1);
  return (
    <>
      {[
        { parameter: SEED, value: sound.seed, set: setSeed },
        { parameter: NUMBER, value: sound.hit.number, set: setNumber },
      ].map(({ parameter, value, set }) => (
        <label
          key={parameter.name}
          className="mb-1 flex min-h-6 items-center justify-between"
          title={parameter.help}
        >
          {parameter.label}
          <ValueField
            id={`chance-${parameter.name}`}
            label={parameter.label}
            className="w-[150px]"
            parameter={parameter}
            value={value}
            context={{ tempoBpm: 120 }}
            onNudge={(direction) => set(Math.max(parameter.minimum, value + direction))}
            onValue={set}
          />
        </label>
      ))}
      <div className="flex gap-2">
        <Button onClick={() => setSeed(Math.floor(Math.random() * 2 ** 31))}>
          <Dices size={13} aria-hidden /> New seed
        </Button>
        <Button onClick={() => setNumber(nextNumber)}>Next hit</Button>
      </div>
      <p className="mt-1 text-[11.5px] text-ink-2">
        All randomness comes from these two. Keep takes of the hits you like.
      </p>
    </>
  );
}
