import { Plus } from "lucide-react";
import type { Curve } from "../../api";
import { CURVE_KINDS, curveWords, editCurve, type Part, withNewPoint } from "../../sound";
import type { CurveProps } from "./curveProps";
import { PointRow } from "./PointRow";

interface Props extends CurveProps {
  /** One time round of a cycle, which has no release. */
  cycle?: boolean;
}

const NEW_POINT_S = 0.05;
const ADD = "inline-flex min-h-6 items-center gap-1 rounded-sm px-1.5 text-action hover:bg-band";

/** Every point of the selected curve as numbers, to be typed. */
export function PointTable({ cycle = false, ...props }: Props) {
  const { sound, curveRef, curve } = props;
  const change = (what: string, to: (now: Curve) => Curve) => editCurve(sound, curveRef, what, to);
  const addAtEnd = (part: Part) => {
    const last = curve[part].at(-1);
    const timeS = (last?.time_s ?? 0) + NEW_POINT_S;
    // Told apart by time, the held part's end lies before every hold and the release's after.
    const holdS = part === "points" ? Infinity : 0;
    change(
      part === "points" ? "point added" : "release point added",
      (now) => withNewPoint(now, timeS, last?.value ?? 0, holdS).curve,
    );
  };
  const toggleRelease = () => {
    if (curve.release.length > 0)
      return change("release part removed", (now) => ({ ...now, release: [] }));
    const end = { time_s: 0.06, value: 0, bend: 3 };
    change("release part added", (now) => ({ ...now, release: [end] }));
  };
  const name =
    curveRef.name === "mover" ? curveWords(sound, curveRef) : `the ${curveRef.name} curve`;
  return (
    <div>
      <table className="w-full" aria-label={`Points of ${name}`}>
        <thead className="text-left text-[11px] text-ink-2">
          <tr>
            <th className="w-5 font-normal">#</th>
            <th className="text-right font-normal">Time</th>
            <th className="text-right font-normal">{CURVE_KINDS[curveRef.name].label}</th>
            <th className="text-right font-normal">Bend</th>
            <th className="w-6">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {(["points", "release"] as const).flatMap((part) =>
            curve[part].map((_, index) => (
              <PointRow
                key={`${part}${index}`}
                {...props}
                part={part}
                index={index}
                change={change}
              />
            )),
          )}
        </tbody>
      </table>
      <div className="mt-1 flex flex-wrap gap-1 text-[12px]">
        <button type="button" className={ADD} onClick={() => addAtEnd("points")}>
          <Plus size={12} aria-hidden /> point
        </button>
        {curve.release.length > 0 && !cycle && (
          <button type="button" className={ADD} onClick={() => addAtEnd("release")}>
            <Plus size={12} aria-hidden /> release point
          </button>
        )}
        {!cycle && (
          <button
            type="button"
            className="min-h-6 rounded-sm px-1.5 text-action hover:bg-band"
            onClick={toggleRelease}
          >
            {curve.release.length > 0 ? "Remove release (one-shot)" : "Add release (held)"}
          </button>
        )}
      </div>
    </div>
  );
}
