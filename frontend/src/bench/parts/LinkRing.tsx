import { useDeclarations, type Link, type Mover, type Parameter, type Sound } from "../../api";
import { ActionMenu, formatValue } from "../../ui";
import {
  edit,
  useBench,
  curveMovers,
  firstAmount,
  moverName,
  newLink,
  showMover,
  MOVER_NAMES,
  movedUnit,
  newMover,
  valueAt,
  withLink,
  mayMove,
  targetAt,
} from "../../sound";

interface Props {
  target: string;
  owner: string;
  /** With words beside the ring, where no value stands before it. */
  wide?: boolean;
}

const NONE: Link[] = [];

/** The ring at a field's end: filled where something moves it; makes links and leads to them. */
export function LinkRing({ target, owner, wide = false }: Props) {
  const sound = useBench((state) => state.document);
  const declarations = useDeclarations().data;
  if (!sound || !declarations) return null;
  const found = targetAt(sound, declarations, target);
  if (!found) return <span className="w-6 shrink-0" aria-hidden />;
  const { parameter } = found;
  const links = sound.links.filter((link) => link.target === target) ?? NONE;
  const nameOf = (id: string) => moverName(sound, id);
  const words = links
    .map(
      (link) => `${nameOf(link.mover)} ${formatValue(link.amount, movedUnit(parameter, link.law))}`,
    )
    .join(", ");
  const drawn = curveMovers(sound).map((one) => ({ ...one, kind: "drawn" }));
  const free = [...sound.movers, ...drawn].filter(
    (mover) =>
      !links.some((link) => link.mover === mover.id) && mayMove(sound, mover, target, declarations),
  );
  const actions = [
    ...links.map((link) => ({
      label: `Show ${nameOf(link.mover)}`,
      act: () => showMover(link.mover),
    })),
    ...free.map(({ id, name }) => ({
      label: `Move by ${name}`,
      act: () =>
        linkTo(sound, id, target, parameter, `${owner}: ${parameter.label} moved by ${name}`),
    })),
    ...(["lfo", "curve", "random", "macro"] as const).map((kind) => ({
      label: `Move by a new ${MOVER_NAMES[kind]}`,
      act: () => {
        const mover = newMover(sound, kind);
        const label = `${owner}: ${parameter.label} moved by ${mover.name}`;
        linkTo(sound, mover.id, target, parameter, label, mover);
      },
    })),
  ];
  return (
    <ActionMenu
      label={`What moves ${owner}: ${parameter.label}`}
      title={words || "Not moved"}
      className="flex min-h-6 min-w-6 shrink-0 items-center justify-end gap-1.5 rounded-sm hover:bg-band"
      anchor="bottom end"
      actions={actions}
    >
      {wide && <span className="figure text-[12px] text-ink-2">{words || "nothing"}</span>}
      <span
        className={`mx-auto size-3 rounded-full border ${links.length > 0 ? "border-action bg-action" : "border-line-strong"}`}
      />
    </ActionMenu>
  );
}

/** Link a mover, a new one where given, by an amount that is heard. */
function linkTo(
  sound: Sound,
  mover: string,
  target: string,
  parameter: Parameter,
  label: string,
  added?: Mover,
): void {
  const link = newLink(mover, target, firstAmount(parameter, valueAt(sound, target)));
  edit(label, (now) => withLink(added ? { ...now, movers: [...now.movers, added] } : now, link));
  showMover(mover);
}
