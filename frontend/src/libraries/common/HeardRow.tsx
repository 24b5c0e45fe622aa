import type { SampleItem } from "../../api";
import { lengthText } from "./figures";
import { playSample } from "./playSample";
import { Thumbnail } from "./Thumbnail";

/** A sample in a short list: a press on its waveform plays it; what can be done stands behind. */
export function HeardRow({ sample, children }: { sample: SampleItem; children: React.ReactNode }) {
  return (
    <li className="flex items-center gap-3 border-b border-line py-1">
      <button
        type="button"
        aria-label={`Play ${sample.name}`}
        onClick={() => playSample(sample)}
        className="rounded-sm hover:bg-band"
      >
        <Thumbnail outline={sample.outline} width={104} height={28} />
      </button>
      <span className="min-w-0 flex-1 truncate font-medium">{sample.name}</span>
      <span className="figure text-[12px]">{lengthText(sample.length_s)}</span>
      {children}
    </li>
  );
}
