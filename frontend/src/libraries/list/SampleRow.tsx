import type { SampleItem } from "../../api";
import { lengthText, levelText, noteText, STATUS_MARKS, statusText, Thumbnail } from "../common";

export const ROW_GRID =
  "grid grid-cols-[24px_minmax(0,1fr)_92px_112px_60px_86px_84px] items-center gap-2.5 px-3 narrow:grid-cols-[24px_minmax(0,1fr)_92px_60px_86px] narrow:gap-1.5 narrow:px-2";

interface Props {
  sample: SampleItem | undefined;
  /** Its place among all that is found, from 0, and how many those are. */
  place: number;
  total: number;
  top: number;
  height: number;
  chosen: boolean;
  marked: boolean;
  playing: boolean;
  /** Whether its audio could not be fetched. */
  failed: boolean;
  onChoose: (event: React.MouseEvent) => void;
  onMark: () => void;
  onOpen: () => void;
}

export function SampleRow(props: Props) {
  const {
    sample,
    place,
    total,
    top,
    height,
    chosen,
    marked,
    playing,
    failed,
    onChoose,
    onMark,
    onOpen,
  } = props;
  if (!sample)
    return (
      <div className="absolute inset-x-0 border-b border-line px-4" style={{ top, height }}>
        <span className="mt-4 block h-2 w-40 rounded-full bg-band" />
      </div>
    );
  const status = STATUS_MARKS[sample.status];
  const tags = [sample.subcategory || sample.category, ...sample.tags].filter(Boolean);
  return (
    <div
      id={`sample-${sample.id}`}
      role="option"
      aria-selected={chosen || marked}
      aria-posinset={place + 1}
      aria-setsize={total}
      aria-label={`${sample.name}, ${lengthText(sample.length_s)}`}
      onClick={onChoose}
      onDoubleClick={onOpen}
      className={`absolute inset-x-0 cursor-default border-b border-line ${ROW_GRID} ${chosen ? "bg-band shadow-[inset_3px_0_var(--action)]" : marked ? "bg-band" : "hover:bg-panel"}`}
      style={{ top, height }}
    >
      <span
        data-mark
        title="Mark (X)"
        className="grid size-6 cursor-pointer place-items-center"
        onClick={(event) => {
          event.stopPropagation();
          onMark();
        }}
      >
        {/* The row itself is what is marked; a box within it would be a control in a control. */}
        <span
          aria-hidden
          className={`grid size-3.5 place-items-center rounded-sm border text-[10px] leading-none ${marked ? "border-action bg-action text-action-ink" : "border-line-strong bg-sheet"}`}
        >
          {marked && "✓"}
        </span>
      </span>
      <span className="min-w-0">
        <span className="block truncate font-medium">
          {playing && <span className="mr-1 text-action">▶</span>}
          {sample.name}
        </span>
        <span className="block truncate text-[11.5px] text-ink-2">
          {failed ? (
            <b role="alert" className="text-bad">
              its audio cannot be loaded
            </b>
          ) : (
            tags.join(" · ") || "no tags"
          )}
        </span>
      </span>
      <span className={`truncate text-[12px] ${status?.colour ?? ""}`}>
        {status?.glyph} {statusText(sample.status)}
      </span>
      <span className="narrow:hidden">
        <Thumbnail outline={sample.outline} width={112} height={32} />
      </span>
      <span className="figure text-right">{lengthText(sample.length_s)}</span>
      <span className="figure text-right">{levelText(sample.loudness_lufs, "LUFS")}</span>
      <span className="figure text-right narrow:hidden">{noteText(sample)}</span>
    </div>
  );
}
