import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect } from "react";
import type { JudgedRound } from "../api";
import { useSize } from "../ui";
import { MemberTile } from "./MemberTile";
import { placeOf } from "./ordered";
import { wantPictures } from "./pictures";
import { useBatch } from "./store";
import { sheetShape } from "./useKeys";

const TILE = 124;
const HEIGHT = 102;
const GAP = 8;
const NO_MARKS: readonly string[] = [];

interface Props {
  numbers: readonly number[];
  judged: JudgedRound | undefined;
}

/** The members of the round that is shown, or what to do where there is none. */
export function Sheet(props: Props) {
  const hasRound = useBatch((state) => state.round !== null);
  return hasRound ? <Grid {...props} /> : <Empty />;
}

/** The members as a grid, of which only what is in sight is there. */
function Grid({ numbers, judged }: Props) {
  const { ref: scroller, width } = useSize<HTMLDivElement>();
  const columns = Math.max(1, Math.floor((width - 24 + GAP) / (TILE + GAP)));
  const lines = Math.ceil(numbers.length / columns);
  const rows = useBatch((state) => state.rows);
  const inHand = useBatch((state) => state.inHand);
  const picked = useBatch((state) => state.picked);
  const thinned = useBatch((state) => state.thinned);
  const kept = useBatch((state) => state.round?.kept ?? 0);
  const virtual = useVirtualizer({
    count: lines,
    getScrollElement: () => scroller.current,
    estimateSize: () => HEIGHT + GAP,
    overscan: 3,
    // The sheet's own padding, so that the member in hand is seen whole.
    paddingStart: 12,
    paddingEnd: 12,
    scrollPaddingStart: 12,
    scrollPaddingEnd: 12,
  });
  useEffect(() => {
    sheetShape.columns = columns;
  }, [columns]);
  const shown = virtual.getVirtualItems();
  const from = (shown[0]?.index ?? 0) * columns;
  const to = ((shown.at(-1)?.index ?? 0) + 1) * columns;
  const inSight = numbers.slice(from, to);
  const wanted = inSight.join(" ");
  useEffect(() => {
    wantPictures(wanted.split(" ").map(Number));
  }, [wanted, rows]);
  const line = Math.floor(numbers.indexOf(inHand) / columns);
  useEffect(() => {
    if (line >= 0 && lines > 0) virtual.scrollToIndex(line, { align: "auto" });
  }, [line, lines, virtual]);
  return (
    <>
      <div
        ref={scroller}
        role="grid"
        aria-label="Sheet of members"
        aria-rowcount={lines}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto px-3"
      >
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map((item) => (
            <div
              key={item.key}
              role="row"
              aria-rowindex={item.index + 1}
              className="absolute inset-x-0 grid"
              style={{
                top: item.start,
                height: HEIGHT,
                gap: GAP,
                gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
              }}
            >
              {numbers.slice(item.index * columns, (item.index + 1) * columns).map((number) => {
                const at = placeOf(judged, number);
                return (
                  <MemberTile
                    key={number}
                    number={number}
                    row={rows.get(number)}
                    marks={at === undefined ? NO_MARKS : (judged?.marks[at] ?? NO_MARKS)}
                    distance={at === undefined ? null : (judged?.original_distance[at] ?? null)}
                    inHand={number === inHand}
                    picked={picked.includes(number)}
                    dimmed={thinned !== null && !thinned.includes(number)}
                  />
                );
              })}
            </div>
          ))}
        </div>
        {numbers.length === 0 && <p className="p-4 text-ink-2">No member is like this.</p>}
      </div>
      <p className="border-t border-line px-3 py-1 text-[11.5px] text-ink-2">
        Arrows move and play · K keep · R reject · S star · M pick · D draw another · Space repeats
        {kept > 0 && ` · ${kept} kept`}
      </p>
    </>
  );
}

function Empty() {
  return (
    <div className="grid flex-1 place-items-center p-6 text-center">
      <div>
        <p className="mb-1 font-title text-[17px] font-semibold">Nothing was made yet</p>
        <p className="max-w-[44ch] text-ink-2">
          Add axes and spreads at the left, or let Suggest spreads measure which numbers change the
          sound. Then press Run. The first members can be heard at once.
        </p>
      </div>
    </div>
  );
}
