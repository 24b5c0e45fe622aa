import { Star } from "lucide-react";
import { memo, useEffect, useRef } from "react";
import type { SheetRow } from "../api";
import { cssColour, prepared, signedBytesOf, spectrogramImage, useTheme } from "../ui";
import { usePictures, type MemberPicture } from "./pictures";
import { takeInHand } from "./useKeys";
import { figureText, MARK_WORDS } from "./words";

interface Props {
  number: number;
  row: SheetRow | undefined;
  marks: readonly string[];
  distance: number | null;
  inHand: boolean;
  picked: boolean;
  /** Thinning would leave it out. */
  dimmed: boolean;
}

const WIDTH = 200;
const WAVE = 34;
const STRIP = 20;

const SHAPE = { rows: 16, columns: 64, low_hz: 20, high_hz: 20000, floor_db: -96 };

function draw(
  canvas: HTMLCanvasElement,
  picture: MemberPicture,
  kept: boolean,
  theme: "light" | "dark",
): void {
  const context = prepared(canvas, WIDTH, WAVE + STRIP);
  const extremes = signedBytesOf(picture.outline);
  const strip = spectrogramImage({ ...SHAPE, data: picture.strip }, theme);
  const columns = extremes.length / 2;
  context.fillStyle = cssColour(kept ? "--action" : "--ink-3");
  for (let n = 0; n < columns; n++) {
    const low = ((extremes[2 * n] ?? 0) / 127) * (WAVE / 2 - 1);
    const high = ((extremes[2 * n + 1] ?? 0) / 127) * (WAVE / 2 - 1);
    const x = (n / columns) * WIDTH;
    context.fillRect(x, WAVE / 2 - high, WIDTH / columns, Math.max(0.8, high - low));
  }
  context.imageSmoothingEnabled = false;
  context.drawImage(strip, 0, WAVE, WIDTH, STRIP);
}

function spoken(number: number, row: SheetRow | undefined, marks: readonly string[]): string {
  if (!row) return `Member ${number}, not made yet`;
  if (row.words !== "") return `Member ${number}, could not be made: ${row.words}`;
  const said = [...row.flags, ...marks].map((code) => MARK_WORDS[code] ?? code);
  return [`Member ${number}`, row.verdict, row.starred ? "starred" : "", ...said]
    .filter((one) => one !== "")
    .join(", ");
}

/**
 * A member on the sheet: its wave, its spectrum, figures, verdict, what stands out. Those that stay
 * in sight are not made anew while one scrolls.
 */
export const MemberTile = memo(function MemberTile(props: Props) {
  const { number, row, marks, distance, inHand, picked, dimmed } = props;
  const picture = usePictures((state) => state.pictures.get(number));
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  const kept = row?.verdict === "kept";
  useEffect(() => {
    if (canvas.current && picture) draw(canvas.current, picture, kept, theme);
  }, [picture, kept, theme]);
  const faded = row?.verdict === "rejected" || dimmed;
  const border = inHand
    ? "border-2 border-ink"
    : picked
      ? "border-2 border-action"
      : "border border-line-strong";
  const remarks = [...(row?.flags ?? []), ...marks];
  return (
    <div
      role="gridcell"
      aria-selected={inHand}
      aria-label={spoken(number, row, marks)}
      title={remarks.map((code) => MARK_WORDS[code] ?? code).join("; ") || undefined}
      className={`flex min-w-0 cursor-pointer flex-col rounded-card bg-sheet px-2 py-1 ${border}`}
      onClick={() => takeInHand(number)}
    >
      <div className="flex h-[18px] items-center gap-1 text-[11.5px]">
        <span className="figure">{`${number}`.padStart(2, "0")}</span>
        {remarks.length > 0 && (
          <span className="font-semibold text-warn" aria-hidden>
            !
          </span>
        )}
        <span className="ml-auto flex items-center gap-1">
          {picked && <span className="text-action">picked</span>}
          {row?.starred && <Star size={11} className="fill-current" aria-hidden />}
          {row?.sample_id != null ? (
            <span className="text-good">in library</span>
          ) : kept ? (
            <span className="font-semibold text-action">kept</span>
          ) : row?.verdict === "rejected" ? (
            <span className="text-ink-2 line-through">rejected</span>
          ) : null}
        </span>
      </div>
      <div className={faded ? "opacity-30" : ""}>
        {row?.words === "" ? (
          <canvas ref={canvas} aria-hidden className="h-[54px] w-full" />
        ) : (
          <p className="grid h-[54px] place-items-center overflow-hidden text-center text-[11px] text-ink-2">
            {row ? row.words : "rendering…"}
          </p>
        )}
        <p className="figure flex justify-between gap-1 text-[10px] whitespace-nowrap text-ink-2">
          <span>{row ? figureText("length_s", row.figures["length_s"]) : ""}</span>
          <span>{row ? figureText("brightness_hz", row.figures["brightness_hz"]) : ""}</span>
          <span title="Distance to the original">
            {distance === null ? "" : `Δ${distance.toFixed(distance < 10 ? 1 : 0)}`}
          </span>
        </p>
      </div>
    </div>
  );
});
