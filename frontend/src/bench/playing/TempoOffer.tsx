import { create } from "zustand";
import type { Sound } from "../../api";
import { Button, formatValue } from "../../ui";
import { edit, hasTimesInSeconds, useBench, withStretchedTimes } from "../../sound";

/** The last change of the tempo, until something else is edited. */
const useTempoChange = create<{ fromBpm: number; after: Sound | null }>(() => ({
  fromBpm: 0,
  after: null,
}));

/** Offer to take times in seconds along, where a tempo has just left them behind. */
export function offerStretch(fromBpm: number): void {
  const { document } = useBench.getState();
  const left = document !== null && document.tempo_bpm !== fromBpm && hasTimesInSeconds(document);
  useTempoChange.setState({ fromBpm, after: left ? document : null });
}

/** After a change of the tempo: times in beats have followed it, those in seconds may be stretched. */
export function TempoOffer() {
  const { fromBpm, after } = useTempoChange();
  const document = useBench((state) => state.document);
  if (!after || document !== after) return null;
  const factor = fromBpm / after.tempo_bpm;
  const close = () => useTempoChange.setState({ after: null });
  const stretch = () => {
    edit(`Times stretched to ${formatValue(after.tempo_bpm, "bpm")} bpm`, (now) =>
      withStretchedTimes(now, factor),
    );
    close();
  };
  return (
    <div
      role="status"
      className="flex flex-wrap items-center gap-2 border-b border-line bg-band px-3 py-1 text-[12.5px]"
    >
      <span className="min-w-0 flex-1">
        {formatValue(fromBpm, "bpm")} → {formatValue(after.tempo_bpm, "bpm")} bpm: times in beats
        followed, times in seconds stayed.
      </span>
      <Button className="min-h-6 px-2 text-[12px]" onClick={stretch}>
        Stretch them to {formatValue(factor, "percent")}
      </Button>
      <Button look="quiet" className="min-h-6 px-2 text-[12px]" onClick={close}>
        Leave them
      </Button>
    </div>
  );
}
