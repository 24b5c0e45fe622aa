import { Plus, X } from "lucide-react";
import type { Declarations } from "../../../api";
import {
  edit,
  freshId,
  newBranch,
  withBranch,
  withProcessor,
  type ForkProcessor,
} from "../../../sound";
import { NameField, PartFields, Section } from "../../parts";

interface Props {
  part: ForkProcessor;
  declarations: Declarations;
}

const MOST_BRANCHES = 4;

/** The branches of a fork: their names and levels; their chains stand in the path. */
export function ForkFields({ part, declarations }: Props) {
  const add = () =>
    edit("Fork: branch added", (sound) =>
      withProcessor(sound, part.id, (now) =>
        now.kind === "fork"
          ? {
              ...now,
              branches: [
                ...now.branches,
                newBranch(freshId(sound, "branch"), `Branch ${now.branches.length + 1}`),
              ],
            }
          : now,
      ),
    );
  const remove = (id: string, name: string) =>
    edit(`Fork: ${name} removed`, (sound) =>
      withProcessor(sound, part.id, (now) =>
        now.kind === "fork"
          ? { ...now, branches: now.branches.filter((one) => one.id !== id) }
          : now,
      ),
    );
  return (
    <Section title="Branches" aside={`${part.branches.length} of ${MOST_BRANCHES}`}>
      <ul aria-label="Branches" className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
        {part.branches.map((branch) => {
          const change = (
            label: string,
            patch: object,
            how?: { gesture: string; moving: boolean },
          ) =>
            edit(label, (now) => withBranch(now, branch.id, (one) => ({ ...one, ...patch })), how);
          return (
            <li key={branch.id} className="rounded-control border border-line bg-sheet px-2 py-1">
              <div className="mb-1 flex items-center gap-1">
                <NameField
                  label={`Name of ${branch.name}`}
                  name={branch.name}
                  onRename={(name) => change(`${branch.name}: named ${name}`, { name })}
                />
                <span className="ml-auto text-[11px] whitespace-nowrap text-ink-2">
                  {branch.chain.length === 0
                    ? "no processors: dry"
                    : `${branch.chain.length} ${branch.chain.length === 1 ? "processor" : "processors"}`}
                </span>
                <button
                  type="button"
                  aria-label={`Remove ${branch.name}`}
                  className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
                  onClick={() => remove(branch.id, branch.name)}
                >
                  <X size={12} aria-hidden />
                </button>
              </div>
              <PartFields
                owner={branch.name}
                partId={branch.id}
                declaration={declarations.branch}
                part={branch}
                onChange={change}
              />
            </li>
          );
        })}
      </ul>
      {part.branches.length < MOST_BRANCHES && (
        <button
          type="button"
          className="mt-1 inline-flex min-h-6 items-center gap-1 rounded-sm px-1.5 text-[12px] text-action hover:bg-band"
          onClick={add}
        >
          <Plus size={12} aria-hidden /> branch
        </button>
      )}
      <p className="mt-1 text-[11.5px] text-ink-2">
        Each branch gets the same input; what comes out of all of them is summed.
      </p>
    </Section>
  );
}
