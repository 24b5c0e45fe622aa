import { useMemo } from "react";
import type { SampleItem } from "../api/types";
import { signedBytesOf } from "../ui/base64";
import { centsText } from "../ui/notes";

export const sampleUrl = (sample: SampleItem) =>
  `/api/samples/${sample.id}/file?sample_rate=48000&sample_format=float32`;

export const lengthText = (seconds: number) =>
  seconds < 1 ? `${(seconds * 1000).toFixed(0)} ms` : `${seconds.toFixed(2)} s`;

export function noteText({ note, cents }: SampleItem): string {
  if (note === null) return "–";
  return cents === null ? note : `${note} ${centsText(cents)}`;
}

export const levelText = (level: number, unit: string) =>
  level <= -144 ? "silent" : `${level.toFixed(1).replace("-", "−")} ${unit}`;

interface Props {
  sample: SampleItem;
  top: number;
  height: number;
  chosen: boolean;
  playing: boolean;
  onChoose: () => void;
  onOpen: () => void;
}

export function SampleRow({ sample, top, height, chosen, playing, onChoose, onOpen }: Props) {
  return (
    <div
      id={`sample-${sample.id}`}
      role="option"
      aria-selected={chosen}
      aria-label={`${sample.name}, ${lengthText(sample.length_s)}`}
      onClick={onChoose}
      onDoubleClick={onOpen}
      className={`absolute inset-x-0 grid cursor-default grid-cols-[minmax(0,1fr)_160px_72px_72px_88px_84px] items-center gap-3 border-b border-line px-4 ${chosen ? "bg-band shadow-[inset_3px_0_var(--action)]" : "hover:bg-panel"}`}
      style={{ top, height }}
    >
      <span className="truncate font-medium">
        {playing && <span className="mr-1 text-action">▶</span>}
        {sample.name}
      </span>
      <Thumbnail outline={sample.outline} width={160} height={34} />
      <span className="figure text-right">{lengthText(sample.length_s)}</span>
      <span className="figure text-right">{levelText(sample.peak_db, "dB")}</span>
      <span className="figure text-right">{levelText(sample.loudness_lufs, "LUFS")}</span>
      <span className="figure text-right">{noteText(sample)}</span>
    </div>
  );
}

interface ThumbnailProps {
  outline: string;
  width: number;
  height: number;
}

export function Thumbnail({ outline, width, height }: ThumbnailProps) {
  const path = useMemo(() => {
    const extremes = signedBytesOf(outline);
    const columns = extremes.length / 2;
    const y = (value: number) => (height / 2 - (value / 127) * (height / 2 - 1)).toFixed(1);
    const x = (n: number) => ((n / Math.max(1, columns - 1)) * width).toFixed(1);
    const upper = Array.from(
      { length: columns },
      (_, n) => `${x(n)} ${y((extremes[2 * n + 1] ?? 0) + 0.8)}`,
    );
    const lower = Array.from(
      { length: columns },
      (_, n) => `${x(n)} ${y((extremes[2 * n] ?? 0) - 0.8)}`,
    ).reverse();
    return columns === 0 ? "" : `M${[...upper, ...lower].join("L")}Z`;
  }, [outline, width, height]);
  return (
    <svg width={width} height={height} aria-hidden className="text-action">
      <path d={path} fill="currentColor" opacity={0.75} />
    </svg>
  );
}
