import type { Processor } from "../../../api";
import { edit, withProcessor } from "../../../sound";

type Comb = Extract<Processor, { kind: "comb" }>;

interface CombKind {
  name: string;
  feedback: number;
  forward: number;
  damping_hz: number;
}

/** Ways to set a comb that are heard as different things. */
const COMB_KINDS: CombKind[] = [
  { name: "String", feedback: 0.985, forward: 0, damping_hz: 6500 },
  { name: "Stopped tube", feedback: -0.93, forward: 0, damping_hz: 4500 },
  { name: "Metal", feedback: 0.96, forward: 0.6, damping_hz: 18000 },
  { name: "Hollow", feedback: 0.6, forward: -1, damping_hz: 12000 },
  { name: "Notches", feedback: 0, forward: 1, damping_hz: 20000 },
  { name: "Odd notches", feedback: 0, forward: -1, damping_hz: 20000 },
];

/** Kinds of comb by name: each is set and heard at once. */
export function CombKindField({ part }: { part: Comb }) {
  const known = COMB_KINDS.find(
    ({ feedback, forward, damping_hz }) =>
      feedback === part.feedback && forward === part.forward && damping_hz === part.damping_hz,
  );
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Kind
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={known?.name ?? ""}
        onChange={({ target }) => {
          const kind = COMB_KINDS.find(({ name }) => name === target.value);
          if (!kind) return;
          const { name, ...numbers } = kind;
          edit(`Comb filter: ${name}`, (sound) =>
            withProcessor(sound, part.id, (now) => ({ ...now, ...numbers }) as Processor),
          );
        }}
      >
        {!known && <option value="">custom</option>}
        {COMB_KINDS.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </label>
  );
}
