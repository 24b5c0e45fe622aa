import { Ellipsis } from "lucide-react";
import type { Layer } from "../../api";
import { ActionMenu, PIGMENTS, formatValue } from "../../ui";
import {
  describeLayer,
  MOST_LAYERS,
  withDuplicate,
  withLayer,
  withLayerMoved,
  edit,
  select,
  showTab,
  useBench,
} from "../../sound";
import { LABEL_WIDTH } from "../parts";

/** What a lane is, and what can be done with its layer. */
export function LaneLabel({ layer, number }: { layer: Layer; number: number }) {
  const { glyph, colour } = PIGMENTS[layer.pigment];
  const toggle = (name: "mute" | "solo") =>
    edit(`${layer.name}: ${name} ${layer[name] ? "off" : "on"}`, (sound) =>
      withLayer(sound, layer.id, (now) => ({ ...now, [name]: !now[name] })),
    );
  return (
    <div
      className="group/label flex shrink-0 flex-col border-r border-line py-2 pr-2 pl-3"
      style={{ width: LABEL_WIDTH }}
    >
      <button
        type="button"
        className="flex min-h-6 items-center gap-1.5 text-left font-semibold"
        title={`Select (${number})`}
        onClick={() => select({ kind: "layer", id: layer.id })}
      >
        <span aria-hidden style={{ color: colour }}>
          {glyph}
        </span>
        <span className="truncate">{layer.name}</span>
      </button>
      <p className="truncate pl-[18px] text-[11.5px] text-ink-2" title={describeLayer(layer)}>
        {describeLayer(layer)}
      </p>
      <div className="mt-auto flex items-center gap-1">
        <Switch
          label={`Mute ${layer.name}`}
          letter="M"
          on={layer.mute}
          onPress={() => toggle("mute")}
        />
        <Switch
          label={`Solo ${layer.name}`}
          letter="S"
          on={layer.solo}
          onPress={() => toggle("solo")}
        />
        <LaneMenu layer={layer} />
        <button
          type="button"
          title="Level: opens Output"
          onClick={() => {
            select({ kind: "layer", id: layer.id });
            showTab("output");
          }}
          className="figure ml-auto min-h-6 rounded-sm px-1 text-[11px] whitespace-nowrap text-ink-2 hover:bg-band"
        >
          {formatValue(layer.level_db, "dB")}
        </button>
      </div>
    </div>
  );
}

function LaneMenu({ layer }: { layer: Layer }) {
  const duplicate = (apart: boolean) => {
    const { document } = useBench.getState();
    if (!document || document.layers.length >= MOST_LAYERS) return;
    const { sound, newId } = withDuplicate(document, layer.id, { apart });
    edit(`Layer duplicated: ${layer.name}`, () => sound);
    select({ kind: "layer", id: newId });
  };
  const move = (places: number) =>
    edit(`Layer moved: ${layer.name}`, (sound) => withLayerMoved(sound, layer.id, places));
  const remove = () => {
    edit(`Layer removed: ${layer.name}`, (sound) => ({
      ...sound,
      layers: sound.layers.filter((one) => one.id !== layer.id),
    }));
    select({ kind: "main" });
  };
  return (
    <ActionMenu
      label={`More for ${layer.name}`}
      title="Duplicate, move, remove"
      className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
      anchor="bottom start"
      actions={[
        { label: "Duplicate", words: "moved by the same movers", act: () => duplicate(false) },
        { label: "Duplicate with movers", words: "each has its own", act: () => duplicate(true) },
        { label: "Move up", act: () => move(-1) },
        { label: "Move down", act: () => move(1) },
        { label: "Remove", act: remove },
      ]}
    >
      <Ellipsis size={14} aria-hidden />
    </ActionMenu>
  );
}

function Switch({
  label,
  letter,
  on,
  onPress,
}: {
  label: string;
  letter: string;
  on: boolean;
  onPress: () => void;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={on}
      onClick={onPress}
      className={`size-6 rounded-sm border text-[11px] font-semibold ${on ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
    >
      {letter}
    </button>
  );
}
