import { useEffect, useMemo, useRef } from "react";
import type { ComparedAnswer } from "../api";
import { drawAlong, prepared, spectrogramImage, useTheme, type TimeScale } from "../ui";
import { lettersOf } from "./letters";

interface Props {
  side: ComparedAnswer["sides"][number];
  lengthS: number;
  scale: TimeScale;
  place: number;
}

const HEIGHT = 72;

/** A side's spectrogram on the common ruler. */
export function SideSpectrogram({ side, lengthS, scale, place }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  const image = useMemo(() => spectrogramImage(side.spectrogram, theme), [side, theme]);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, HEIGHT);
    drawAlong(context, image, { scale, lengthS, height: HEIGHT });
  }, [image, lengthS, scale]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`Spectrogram of ${lettersOf(place).letter}`}
      className="pointer-events-none absolute inset-0"
      style={{ width: scale.width, height: HEIGHT }}
    />
  );
}
