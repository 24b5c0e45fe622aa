import { Link } from "react-router";
import type { SoundItem } from "../../api";
import { type Action, ActionMenu } from "../../ui";
import { lengthText } from "../common";
import { HeardSound } from "./HeardSound";
import { useSoundLook } from "./useSoundLook";

interface Props {
  sound: SoundItem;
  /** Its place in the list, from 1. */
  place: number;
  chosen: boolean;
  busy: boolean;
  /** Why it cannot be played. */
  problem: string | null;
  actions: Action[];
  onChoose: () => void;
  onPlay: () => void;
  onOpen: () => void;
  onShowTakes: () => void;
}

export function SoundRow(props: Props) {
  const { sound, place, chosen, busy, problem, actions, onChoose, onPlay, onOpen, onShowTakes } =
    props;
  const { row, look } = useSoundLook(sound);
  return (
    <div
      ref={row}
      id={`sound-${sound.id}`}
      role="row"
      aria-selected={chosen}
      aria-rowindex={place}
      onClick={onChoose}
      onDoubleClick={(event) => {
        // Two quick presses of a button are two presses of it.
        if (!(event.target as Element).closest("button, a")) onOpen();
      }}
      className={`flex cursor-default items-center gap-3 border-b border-line px-3 py-1.5 ${chosen ? "bg-band shadow-[inset_3px_0_var(--action)]" : "hover:bg-panel"}`}
    >
      <span role="gridcell">
        <HeardSound sound={sound} look={look} busy={busy} problem={problem} onPlay={onPlay} />
      </span>
      <span role="gridcell" className="min-w-0 flex-1">
        <span className="block truncate font-medium">{sound.name}</span>
        <span className="block truncate text-[11.5px] text-ink-2">
          {problem ? (
            <b role="alert" className="text-bad">
              {problem}
            </b>
          ) : (
            [sound.category, ...sound.tags].filter(Boolean).join(" · ") || "no tags"
          )}
        </span>
      </span>
      <span role="gridcell" className="figure w-16 text-right text-[12px]">
        {look ? lengthText(look.length_s) : "–"}
      </span>
      <span role="gridcell" className="figure w-14 text-right text-[12px] narrow:hidden">
        rev {sound.revision}
      </span>
      <span role="gridcell" className="w-20 text-right">
        <button
          type="button"
          className="text-[12.5px] text-action underline disabled:text-ink-3 disabled:no-underline"
          disabled={sound.takes === 0}
          onClick={onShowTakes}
        >
          {sound.takes} take{sound.takes === 1 ? "" : "s"}
        </button>
      </span>
      <span role="gridcell">
        <Link to={`/bench/${sound.id}`} className="text-[12.5px] text-action underline">
          Open
        </Link>
      </span>
      <span role="gridcell">
        <ActionMenu
          label={`More of ${sound.name}`}
          className="min-h-8 rounded-control px-2 hover:bg-band"
          anchor="bottom end"
          actions={actions}
        >
          ⋯
        </ActionMenu>
      </span>
    </div>
  );
}
