import type { Declarations } from "../../api";
import { Section } from "../parts";
import { mayMove, targetsOf, useBench } from "../../sound";
import { LinkRow } from "./LinkRow";
import { TargetPicker } from "./TargetPicker";

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
  const free = targets.filter(({ target }) => mayMove(sound, mover, target, declarations));
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
      <TargetPicker sound={sound} mover={mover} targets={free} />
    </Section>
  );
}
