import { Plus } from "lucide-react";
import { useDeclarations, type MoverKind, type Sound } from "../../api";
import { ActionMenu } from "../../ui";
import {
  edit,
  useBench,
  idleMovers,
  curveMovers,
  MOVER_KINDS,
  MOVER_NAMES,
  newMover,
  showMover,
  withoutMover,
  targetsOf,
} from "../../sound";

/** Who moves: every mover with how much it moves, idle ones said to be so, and new ones. */
export function MoverList({ sound }: { sound: Sound }) {
  const selection = useBench((state) => state.selection);
  const add = (kind: MoverKind) => {
    const mover = newMover(sound, kind);
    edit(`Mover added: ${mover.name}`, (now) => ({ ...now, movers: [...now.movers, mover] }));
    showMover(mover.id);
  };
  const idle = idleMovers(sound);
  const removeIdle = () =>
    edit(`Idle movers removed: ${idle.map(({ name }) => name).join(", ")}`, (now) =>
      idle.reduce((left, { id }) => withoutMover(left, id), now),
    );
  // Drawn curves stand among the movers as soon as they move something.
  const drawn = curveMovers(sound).filter(({ id }) =>
    sound.links.some((link) => link.mover === id || link.scaled_by === id),
  );
  const declarations = useDeclarations().data;
  /** What a mover moves, or scales, in words. */
  const moved = (id: string) => {
    const targets = declarations ? targetsOf(sound, declarations) : [];
    return sound.links
      .filter((link) => link.mover === id || link.scaled_by === id)
      .map((link) => targets.find(({ target }) => target === link.target))
      .map((found) => (found ? `${found.owner}: ${found.parameter.label}` : ""))
      .join(", ");
  };
  const macros = sound.movers.filter(({ kind }) => kind === "macro").length;
  const offered = MOVER_KINDS.filter(
    (kind) => (kind !== "macro" || macros < 8) && (kind !== "follower" || sound.layers.length > 0),
  );
  return (
    <div className="w-[150px] shrink-0">
      <h3 className="mb-1 flex h-[18px] items-center justify-between text-[12px] font-semibold text-ink-2">
        Movers
        <ActionMenu
          label="Add mover"
          title="Add mover"
          className="grid size-6 place-items-center rounded-sm text-action hover:bg-panel"
          anchor="top start"
          actions={offered.map((kind) => ({ label: MOVER_NAMES[kind], act: () => add(kind) }))}
        >
          <Plus size={13} aria-hidden />
        </ActionMenu>
      </h3>
      <div className="grid max-h-[116px] gap-1 overflow-y-auto">
        {[...sound.movers, ...drawn].map(({ id, name }) => {
          const unused = idle.some((one) => one.id === id);
          const links = sound.links.filter(
            (link) => link.mover === id || link.scaled_by === id,
          ).length;
          const chosen = selection.kind === "mover" && selection.id === id;
          return (
            <button
              key={id}
              type="button"
              onClick={() => showMover(id)}
              className={`flex min-h-7 items-center gap-1.5 rounded-control border bg-sheet px-2 text-left ${chosen ? "border-ink" : "border-line-strong"}`}
            >
              <span aria-hidden className="text-action">
                ◗
              </span>
              <span className="min-w-0 flex-1 truncate">{name}</span>
              <span
                className={`figure text-[10.5px] ${unused ? "text-warn" : "text-ink-2"}`}
                title={unused ? "No links" : `Moves ${moved(id)}`}
              >
                {unused ? "idle" : links}
              </span>
            </button>
          );
        })}
        {idle.length > 0 && (
          <button
            type="button"
            className="min-h-6 rounded-sm px-1 text-left text-[11.5px] text-action hover:bg-panel"
            onClick={removeIdle}
          >
            Remove {idle.length} idle
          </button>
        )}
        {sound.movers.length === 0 && (
          <p className="text-[11.5px] text-ink-2">
            No movers yet. Add one here, or with the ring beside a number.
          </p>
        )}
      </div>
    </div>
  );
}
