import type { Declarations } from "../../api";
import { Section } from "../parts";
import {
  edit,
  useBench,
  firstAmount,
  newLink,
  valueAt,
  withLink,
  mayMove,
  targetsOf,
} from "../../sound";
import { LinkRow } from "./LinkRow";

interface Props {
  mover: { id: string; name: string; kind: string };
  declarations: Declarations;
}

/** What a drawn curve moves besides what it is drawn for. */
export function CurveMoves({
  id,
  name,
  declarations,
}: {
  id: string;
  name: string;
  declarations: Declarations;
}) {
  return <MoverLinks mover={{ id, name, kind: "drawn" }} declarations={declarations} />;
}

/** Everything that a mover moves, each with its amount, and what else it could move. */
export function MoverLinks({ mover, declarations }: Props) {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const targets = targetsOf(sound, declarations);
  const own = sound.links.filter((link) => link.mover === mover.id);
  const free = targets.filter(
    ({ target }) =>
      !own.some((link) => link.target === target) && mayMove(sound, mover, target, declarations),
  );
  const add = (target: string) => {
    const found = free.find((one) => one.target === target);
    if (!found) return;
    const amount = firstAmount(found.parameter, valueAt(sound, target));
    edit(`${found.owner}: ${found.parameter.label} moved by ${mover.name}`, (now) =>
      withLink(now, newLink(mover.id, target, amount)),
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
          return (
            found && (
              <LinkRow
                key={link.target}
                link={link}
                found={found}
                sound={sound}
                declarations={declarations}
              />
            )
          );
        })}
      </ul>
      <select
        aria-label={`Add a link from ${mover.name}`}
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
