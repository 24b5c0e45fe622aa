import { Plus } from "lucide-react";
import { useDeclarations, type Sound } from "../../api";
import { ActionMenu } from "../../ui";
import {
  addMover,
  edit,
  useBench,
  idleMovers,
  curveMovers,
  MOVER_KINDS,
  MOVER_NAMES,
  showMover,
  withoutMover,
  targetsOf,
} from "../../sound";

/** Every mover that is no macro, with how much it moves; idle ones are marked; and new ones. */
export function MoverChips({ sound }: { sound: Sound }) {
  const selection = useBench((state) => state.selection);
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
  const chips = [...sound.movers.filter(({ kind }) => kind !== "macro"), ...drawn];
  return (
    <div role="group" aria-label="Movers" className="flex min-w-0 flex-wrap items-center gap-1">
      {chips.map(({ id, name }) => {
        const unused = idle.some((one) => one.id === id);
        const links = sound.links.filter(
          (link) => link.mover === id || link.scaled_by === id,
        ).length;
        const chosen = selection.kind === "mover" && selection.id === id;
        return (
          <button
            key={id}
            type="button"
            aria-pressed={chosen}
            title={unused ? "No links" : `Moves ${moved(id)}`}
            onClick={() => showMover(id)}
            className={`inline-flex min-h-6 items-center gap-1 rounded-full border px-2 text-[12px] ${chosen ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet hover:bg-band"}`}
          >
            <span aria-hidden className={chosen ? "" : "text-action"}>
              ◗
            </span>
            <span className="max-w-[120px] truncate">{name}</span>
            <span className={`figure text-[10.5px] ${unused && !chosen ? "text-warn" : ""}`}>
              {unused ? "idle" : links}
            </span>
          </button>
        );
      })}
      <ActionMenu
        label="Add mover"
        title="Add a mover; the ring beside a number does it too"
        className="inline-flex min-h-6 items-center gap-1 rounded-sm px-1.5 text-[12px] text-action hover:bg-band"
        anchor="bottom start"
        actions={offered.map((kind) => ({ label: MOVER_NAMES[kind], act: () => addMover(kind) }))}
      >
        <Plus size={13} aria-hidden /> Mover
      </ActionMenu>
      {idle.length > 0 && (
        <button
          type="button"
          className="min-h-6 rounded-sm px-1 text-left text-[11.5px] text-action hover:bg-band"
          onClick={removeIdle}
        >
          Remove {idle.length} idle
        </button>
      )}
    </div>
  );
}
