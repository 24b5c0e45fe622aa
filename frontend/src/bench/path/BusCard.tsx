import { Ear } from "lucide-react";
import type { Bus, Sound } from "../../api";
import { formatValue } from "../../ui";
import { withBus, edit, select, useBench, listenAt } from "../../sound";
import { comingTo } from "./BusFields";
import { dragSource } from "./dragging";
import { useRouteDrop } from "./dropRoute";
import { CardButton, shownLevel } from "./ProcessorCard";
import { RouteMenu } from "./RouteMenu";
import { SendMark } from "./SendMark";

/** A bus: what comes to it, its level, and where it goes. */
export function BusCard({ sound, bus }: { sound: Sound; bus: Bus }) {
  const selected = useBench(({ selection }) => selection.kind === "bus" && selection.id === bus.id);
  const level = useBench((state) => state.audition?.levels_db[bus.id]);
  const heard = useBench((state) => state.listenAt === bus.id);
  const { over, handlers } = useRouteDrop(bus.id);
  const coming = comingTo(sound, bus.id);
  const border = over ? "border-action bg-band" : selected ? "border-ink" : "border-line-strong";
  return (
    <div
      {...dragSource("route", bus.id)}
      {...handlers}
      data-bus={bus.id}
      className={`flex h-[110px] w-[142px] shrink-0 cursor-grab flex-col rounded-card border bg-panel px-2 pt-1 pb-1 ${border}`}
    >
      <div className="flex items-center">
        <button
          type="button"
          className="min-h-6 min-w-0 flex-1 truncate text-left font-semibold"
          onClick={() => select({ kind: "bus", id: bus.id })}
        >
          {bus.name}
        </button>
        <button
          type="button"
          aria-label={`Mute ${bus.name}`}
          aria-pressed={bus.mute}
          onClick={() =>
            edit(`${bus.name}: mute ${bus.mute ? "off" : "on"}`, (now) =>
              withBus(now, bus.id, (one) => ({ ...one, mute: !one.mute })),
            )
          }
          className={`size-6 rounded-sm border text-[11px] font-semibold ${bus.mute ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
        >
          M
        </button>
      </div>
      <p className="line-clamp-2 text-[11px] leading-[14px] text-ink-2">
        {coming.length > 0
          ? `from ${coming.map(({ name }) => name).join(", ")}`
          : "drag layers here"}
      </p>
      {bus.split && (
        <p className="figure text-[10.5px] text-ink-2">
          split at {formatValue(bus.crossover_hz, "Hz")}
        </p>
      )}
      {bus.each_note && <p className="text-[10.5px] text-ink-2">each note apart</p>}
      <div className="mt-auto flex items-center justify-between">
        <RouteMenu sound={sound} part={bus} />
        <SendMark source={bus.id} />
        <span className="figure text-[10.5px] whitespace-nowrap text-ink-2">
          {shownLevel(level)}
        </span>
        <CardButton
          label={`Listen after ${bus.name}`}
          pressed={heard}
          onPress={() => listenAt(bus.id)}
          Icon={Ear}
        />
      </div>
    </div>
  );
}
