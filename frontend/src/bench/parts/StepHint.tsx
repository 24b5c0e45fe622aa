import { useEffect, useState } from "react";
import { renderRequest, resultOf, api, ApiError, type Parameter, type Sound } from "../../api";
import { formatValue } from "../../ui";
import { withValueAt, useBench } from "../../sound";

interface Props {
  target: string;
  parameter: Parameter;
  value: number;
}

const WAIT_MS = 500;
const COARSE_DB = 3;

/** One nudge up, as the arrow keys make it; down where there is no room. */
function nudged(value: number, parameter: Parameter): number {
  const step = parameter.scale === "log" ? value * (2 ** (1 / 12) - 1) : parameter.step;
  return value + step <= parameter.maximum ? value + step : value - step;
}

/** What one step of the value under the hand changes, measured; a coarse one is said to be so. */
export function StepHint({ target, parameter, value }: Props) {
  const sound = useBench((state) => state.document);
  const [measured, setMeasured] = useState<{ sound: Sound; words: string } | null>(null);
  useEffect(() => {
    if (!sound) return;
    const timer = window.setTimeout(() => {
      const next = nudged(value, parameter);
      const other = withValueAt(sound, target, next);
      const body = { ...renderRequest(sound, "draft"), other: { ...other } };
      resultOf(api.POST("/api/judging/difference", { body }))
        .then(({ change_db }) => {
          const step = formatValue(Math.abs(next - value), parameter.unit).replace(/^\+/, "");
          const fine = change_db > COARSE_DB ? "; Alt for finer steps" : "";
          const words =
            change_db < 0.1
              ? `A step of ${step} changes nothing here`
              : `A step of ${step} changes up to ${change_db.toFixed(1)} dB here${fine}`;
          setMeasured({ sound, words });
        })
        .catch((error: unknown) => {
          // A hint that cannot be had is not missed.
          if (!(error instanceof ApiError)) throw error;
        });
    }, WAIT_MS);
    return () => window.clearTimeout(timer);
  }, [sound, target, parameter, value]);
  if (measured?.sound !== sound || !measured) return null;
  return (
    <p className="pl-[100px] text-[11px] text-ink-2" role="status">
      {measured.words}
    </p>
  );
}
