import { Ellipsis } from "lucide-react";
import type { TryOutPart } from "../api";
import { choose, chosenPart, editTryOut, useTryOut, type Heard, type RoundNow } from "../loop";
import { ActionMenu, formatValue, PIGMENTS, PIGMENT_ORDER, type TimeScale } from "../ui";
import { withoutPart, withPart, withPartCopied, withPartMoved } from "./edits";
import { HitLane } from "./HitLane";
import { LABEL_WIDTH, useTryOutRuler } from "./rulerStore";

interface Props {
  part: TryOutPart;
  index: number;
  heard: Heard;
  round: RoundNow;
  scale: TimeScale;
  height: number;
  missing: string;
}

export const pigmentOf = (index: number) =>
  PIGMENTS[PIGMENT_ORDER[index % PIGMENT_ORDER.length] ?? "rust"];

/** A part: what it is, and its hits in time. */
export function PartLane(props: Props) {
  const { part, index, round } = props;
  const chosen = useTryOut((state) => chosenPart(state.chosen) === part.id);
  const source = round.plan?.sources.find((one) => one.part === part.id);
  const missing = source?.missing || props.missing;
  const { colour } = pigmentOf(index);
  return (
    <div
      data-part={part.id}
      className="flex border-b border-line"
      style={{
        height: props.height,
        background: chosen ? `color-mix(in srgb, ${colour} 7%, var(--sheet))` : "var(--sheet)",
        boxShadow: chosen ? `inset 3px 0 ${colour}` : undefined,
      }}
    >
      <Label part={part} index={index} about={missing === "" ? source?.about : "missing"} />
      {missing === "" ? (
        <HitLane {...props} colour={colour} />
      ) : (
        <p role="status" className="flex items-center px-3 text-[12.5px] text-warn">
          {part.name} is silent: {missing}. Choose something else under Part.
        </p>
      )}
    </div>
  );
}

function Label({
  part,
  index,
  about,
}: {
  part: TryOutPart;
  index: number;
  about: string | undefined;
}) {
  const { glyph, colour } = pigmentOf(index);
  const toggle = (name: "mute" | "solo") =>
    editTryOut(`${part.name}: ${name} ${part[name] ? "off" : "on"}`, (now) =>
      withPart(now, part.id, (one) => ({ ...one, [name]: !one[name] })),
    );
  return (
    <div
      className="flex shrink-0 flex-col border-r border-line py-1 pr-1.5 pl-3"
      style={{ width: LABEL_WIDTH }}
    >
      <button
        type="button"
        className="flex min-h-6 items-center gap-1.5 text-left font-semibold"
        title={part.name}
        onClick={() => {
          choose({ kind: "part", part: part.id });
          useTryOutRuler.setState({ leaf: "Part" });
        }}
      >
        <span aria-hidden style={{ color: colour }}>
          {glyph}
        </span>
        <span className="truncate">{part.name}</span>
      </button>
      <div className="mt-auto flex items-center gap-1">
        <Switch
          letter="M"
          label={`Mute ${part.name}`}
          on={part.mute}
          onPress={() => toggle("mute")}
        />
        <Switch
          letter="S"
          label={`Solo ${part.name}`}
          on={part.solo}
          onPress={() => toggle("solo")}
        />
        <LaneMenu part={part} />
        <span
          className="ml-auto truncate text-right text-[11px] text-ink-2"
          title={`${about ?? ""} · ${formatValue(part.level_db, "dB")}`}
        >
          <span className="figure text-[11px]">{formatValue(part.level_db, "dB")}</span>
        </span>
      </div>
    </div>
  );
}

function LaneMenu({ part }: { part: TryOutPart }) {
  return (
    <ActionMenu
      label={`More for ${part.name}`}
      title="Duplicate, move, remove"
      className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
      anchor="bottom start"
      actions={[
        {
          label: "Duplicate",
          act: () =>
            editTryOut(`Part duplicated: ${part.name}`, (now) => withPartCopied(now, part.id)),
        },
        {
          label: "Move up",
          act: () =>
            editTryOut(`Part moved: ${part.name}`, (now) => withPartMoved(now, part.id, -1)),
        },
        {
          label: "Move down",
          act: () =>
            editTryOut(`Part moved: ${part.name}`, (now) => withPartMoved(now, part.id, 1)),
        },
        {
          label: "Remove",
          act: () => {
            editTryOut(`Part removed: ${part.name}`, (now) => withoutPart(now, part.id));
            choose({ kind: "tryout" });
          },
        },
      ]}
    >
      <Ellipsis size={14} aria-hidden />
    </ActionMenu>
  );
}

function Switch(props: { letter: string; label: string; on: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={props.label}
      aria-pressed={props.on}
      onClick={props.onPress}
      className={`size-6 rounded-sm border text-[11px] font-semibold ${props.on ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
    >
      {props.letter}
    </button>
  );
}
