import { useEffect } from "react";
import type { HoldOutline, Layer } from "../../api";
import { signedBytesOf, Button, formatValue } from "../../ui";
import { editCurve, useBench } from "../../sound";
import { releaseLikeDecay } from "../curves";
import { showHolds } from "../playing";

const WIDTH = 282;
const HEIGHT = 30;

/** The sound as a tap, as it is set and as a long hold, so that they can be made to match. */
export function HoldsSection({ layer }: { layer: Layer }) {
  useEffect(showHolds, []);
  const holds = useBench((state) => state.details?.holds);
  const longestS = Math.max(0.01, ...(holds ?? []).map(({ length_s }) => length_s));
  const matched = releaseLikeDecay(layer.level);
  const canMatch = matched !== layer.level && layer.level.release.length > 0;
  const match = () => {
    const { document } = useBench.getState();
    if (document)
      editCurve(
        document,
        { layerId: layer.id, name: "level" },
        "release matched to decay",
        releaseLikeDecay,
      );
  };
  return (
    <div className="mt-4">
      <h4 className="mb-1 text-[12px] font-semibold text-ink-2">Tap and hold</h4>
      <div className="grid gap-1" role="group" aria-label="Tap and hold">
        {holds?.map((hold) => (
          <HoldRow key={hold.name} hold={hold} longestS={longestS} />
        ))}
      </div>
      <Button className="mt-2" disabled={!canMatch} onClick={match}>
        Match release to decay
      </Button>
      {layer.level.release.length === 0 && (
        <p className="mt-1 text-[11.5px] text-ink-2">A one-shot does not depend on the hold.</p>
      )}
    </div>
  );
}

function HoldRow({ hold, longestS }: { hold: HoldOutline; longestS: number }) {
  const extremes = signedBytesOf(hold.outline.data);
  const columns = extremes.length / 2;
  const x = (column: number) =>
    ((((column + 0.5) / Math.max(1, columns)) * hold.length_s) / longestS) * WIDTH;
  const reach = (HEIGHT / 2 - 1) * Math.min(1, hold.outline.scale);
  const y = (value: number) => HEIGHT / 2 - (value / 127) * reach;
  const top = Array.from(
    { length: columns },
    (_, n) => `${x(n).toFixed(1)} ${y(extremes[2 * n + 1] ?? 0).toFixed(1)}`,
  );
  const bottom = Array.from(
    { length: columns },
    (_, n) => `${x(n).toFixed(1)} ${y(extremes[2 * n] ?? 0).toFixed(1)}`,
  );
  const rings = hold.ringing ? `rings ${formatValue(hold.ringing.ring_s, "s")}` : "silent";
  const hangs = hold.end_reason === "limit" ? ", never ends" : "";
  return (
    <div>
      <p className="figure flex justify-between text-[11px] text-ink-2">
        <span>
          {hold.name} · {formatValue(hold.hold_s, "s")}
        </span>
        <span className={hangs ? "text-warn" : ""}>
          {rings}
          {hangs}
        </span>
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full rounded-sm border border-line bg-sheet"
        role="img"
        aria-label={`${hold.name}: held ${formatValue(hold.hold_s, "s")}, ${rings}${hangs}`}
      >
        {columns > 0 && (
          <path
            d={`M${top.join("L")}L${bottom.reverse().join("L")}Z`}
            fill="var(--ink-2)"
            stroke="var(--ink-2)"
            strokeWidth={0.5}
          />
        )}
        <line
          x1={(hold.hold_s / longestS) * WIDTH}
          x2={(hold.hold_s / longestS) * WIDTH}
          y1={0}
          y2={HEIGHT}
          stroke="var(--action)"
          strokeDasharray="1 2"
        />
      </svg>
    </div>
  );
}
