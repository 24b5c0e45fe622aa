import { ChevronDown, Maximize2, ZoomIn, ZoomOut } from "lucide-react";
import { type Action, ActionMenu, ticks, type TimeScale, zoomed } from "../../ui";
import { pointsOnRuler, curveAt, curveKey, type CurveRef, setView, useBench } from "../../sound";
import { LABEL_WIDTH, useRuler } from "../parts";
import { shownView } from "./useTimeline";

export function zoomBy(factor: number): void {
  const view = shownView();
  setView(zoomed(view, factor, view.startS + (view.endS - view.startS) * 0.25));
}

export const zoomToStart = () => setView({ startS: 0, endS: 0.05 });

/** The selection, with a little room: points taken together, or the selected layer. */
export function zoomToSelection(): void {
  const { document, points, selection, curves, audition } = useBench.getState();
  if (!document) return;
  const refs: CurveRef[] = document.layers.flatMap(({ id }) => [
    { layerId: id, name: "level" },
    { layerId: id, name: "pitch" },
  ]);
  refs.push({ layerId: null, name: "pitch" });
  const chosen = points
    ? refs.filter((ref) => curveKey(ref) === points.key)
    : refs.filter(
        ({ layerId, name }) =>
          selection.kind === "layer" &&
          layerId === selection.id &&
          name === (curves[layerId] ?? "level"),
      );
  const times = chosen.flatMap((ref) => {
    const curve = curveAt(document, ref);
    const layer = document.layers.find(({ id }) => id === ref.layerId);
    const delayS = layer?.delay_s ?? 0;
    if (!curve) return [];
    return pointsOnRuler(curve, Math.max(0, document.hit.hold_s - delayS))
      .filter(
        ({ address }) =>
          !points ||
          points.addresses.some((one) => one.part === address.part && one.index === address.index),
      )
      .map(({ timeS }) => timeS + delayS);
  });
  if (times.length === 0) return;
  const [from, to] = [Math.min(...times), Math.max(...times)];
  const room = Math.max(0.002, (to - from) * 0.08);
  const end = to > from ? to + room : Math.max(to + room, audition?.measures.length_s ?? 0);
  setView({ startS: Math.max(0, from - room), endS: end });
}

/** The ruler's marks, and zoom. */
export function Ruler({ scale }: { scale: TimeScale }) {
  const holdS = useBench((state) => state.document?.hit.hold_s ?? 0);
  const lengthS = useBench((state) => state.audition?.measures.length_s);
  const tempoBpm = useBench((state) => state.document?.tempo_bpm ?? 120);
  const unit = useRuler((state) => state.unit);
  const marks = ticks(scale, unit === "beats" ? 60 / tempoBpm : null);
  return (
    <div
      data-ruler
      className="no-select flex h-7 shrink-0 border-b border-line-strong bg-panel text-ink-2"
    >
      <div
        className="flex items-center border-r border-line pr-0.5 pl-2"
        style={{ width: LABEL_WIDTH }}
      >
        <RulerMenu />
        <ZoomButton label="Zoom in" keys="+" onPress={() => zoomBy(0.5)} Icon={ZoomIn} />
        <ZoomButton label="Zoom out" keys="−" onPress={() => zoomBy(2)} Icon={ZoomOut} />
        <ZoomButton label="Show all" keys="0" onPress={() => setView(null)} Icon={Maximize2} />
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        {marks.map(({ timeS, label }) => (
          <span
            key={timeS}
            className="figure absolute top-0 bottom-0 border-l border-line-strong pt-1.5 pl-1 text-[11px]"
            style={{ left: scale.x(timeS) }}
          >
            {label}
          </span>
        ))}
        <span
          title="End of the hold"
          className="absolute bottom-0 h-2 w-0 border-l-2 border-action"
          style={{ left: scale.x(holdS) }}
        />
        {lengthS !== undefined && (
          <span
            title="End of the sound"
            className="absolute bottom-0 h-2 w-0 border-l-2 border-ink-2"
            style={{ left: scale.x(lengthS) }}
          />
        )}
      </div>
    </div>
  );
}

function RulerMenu() {
  const { shape, unit } = useRuler();
  const actions: Action[] = [
    { label: "Milliseconds", on: unit === "time", act: () => useRuler.setState({ unit: "time" }) },
    { label: "Beats", on: unit === "beats", act: () => useRuler.setState({ unit: "beats" }) },
    { label: "Even", on: shape === "even", act: () => useRuler.setState({ shape: "even" }) },
    {
      label: "Stretched attack",
      on: shape === "stretched",
      act: () => useRuler.setState({ shape: "stretched" }),
    },
    { label: "Show the first 50 ms (9)", act: zoomToStart },
    { label: "Zoom to the selection (Shift 0)", act: zoomToSelection },
    { label: "Show all (0)", act: () => setView(null) },
  ];
  return (
    <ActionMenu
      label="Ruler"
      title="What the ruler shows"
      className="mr-auto inline-flex min-h-6 items-center gap-0.5 rounded-sm px-1 text-[12px] whitespace-nowrap hover:bg-band"
      anchor="bottom start"
      actions={actions}
    >
      {unit === "beats" ? "Beats" : "Time"}
      {shape === "stretched" && " ⤙"} <ChevronDown size={12} aria-hidden />
    </ActionMenu>
  );
}

interface ZoomButtonProps {
  label: string;
  keys: string;
  onPress: () => void;
  Icon: typeof ZoomIn;
}

function ZoomButton({ label, keys, onPress, Icon }: ZoomButtonProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={`${label} (${keys})`}
      onClick={onPress}
      className="grid size-6 place-items-center rounded-sm hover:bg-band"
    >
      <Icon size={12} aria-hidden />
    </button>
  );
}
