import { useMemo } from "react";
import { signedBytesOf } from "../../ui";

interface Props {
  outline: string;
  width: number;
  height: number;
}

/** A sample's waveform, drawn small. */
export function Thumbnail({ outline, width, height }: Props) {
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
