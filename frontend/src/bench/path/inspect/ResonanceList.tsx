import type { ProcessorLook } from "../../../api";
import { formatValue } from "../../../ui";
import { isPitched, withProcessor, edit, useBench } from "../../../sound";
import { type Band, type Equaliser, freeBand } from "../picture";

import { type Bump, bump, isOwnPitch } from "./bumps";

const DEEPEST_DB = 12;
/** How near a peak, or a broad bump, is to the pitch of the sound where it is that pitch. */
const PEAK_OCTAVES = 1 / 8;
const BUMP_OCTAVES = 1 / 2;

/** What the sound is tuned to: its measured fundamental and its layers' pitches; none of noise. */
function useOwnPitches(): number[] {
  const layers = useBench((state) => state.document?.layers);
  const details = useBench((state) => state.details?.layers);
  const measured = useBench((state) => state.audition?.measures.fundamental_hz ?? null);
  const pitched = layers?.filter(({ mute, source }) => !mute && isPitched(source)) ?? [];
  if (pitched.length === 0) return [];
  const own = pitched.map(({ id }) => details?.[id]?.base_hz ?? null);
  return [measured, ...own].filter((hz) => hz !== null);
}

/** The strongest narrow peaks of what comes out, each with a cut at its place. */
export function ResonanceList({ part, look }: { part: Equaliser; look: ProcessorLook }) {
  const own = useOwnPitches();
  const found = bump(look.spectrum_hz, look.after.spectrum_db);
  const mud = found && !isOwnPitch(found.hz, own, BUMP_OCTAVES) ? found : null;
  const cut = ({ hz, over_db }: ProcessorLook["resonances"][number]) => {
    const name = freeBand(part);
    if (!name) return;
    const band: Band = {
      on: true,
      response: "peak",
      frequency_hz: Number(hz.toPrecision(4)),
      gain_db: -Math.min(DEEPEST_DB, Math.round(over_db - 3)),
      sharpness: 8,
    };
    edit(`Equaliser: cut at ${formatValue(hz, "Hz")}`, (sound) =>
      withProcessor(sound, part.id, (now) => ({ ...now, [name]: band })),
    );
  };
  const lower = ({ hz, overDb }: Bump) => {
    const name = freeBand(part);
    if (!name) return;
    const band: Band = {
      on: true,
      response: "peak",
      frequency_hz: Math.round(hz),
      gain_db: -Math.min(DEEPEST_DB, Math.round(overDb / 2)),
      sharpness: 1.2,
    };
    edit(`Equaliser: bell at ${formatValue(hz, "Hz")}`, (sound) =>
      withProcessor(sound, part.id, (now) => ({ ...now, [name]: band })),
    );
  };
  return (
    <ul className="text-[12px]">
      {mud && (
        <li className="flex min-h-6 items-center gap-2">
          <span className="flex-1">
            Bump near <span className="figure">{formatValue(mud.hz, "Hz")}</span>
          </span>
          <span className="figure text-ink-2" title="Relative to the bands below and above">
            +{mud.overDb.toFixed(0)} dB
          </span>
          <button
            type="button"
            disabled={!freeBand(part)}
            className="min-h-6 rounded-control border border-line-strong px-2 text-action hover:bg-band disabled:opacity-40"
            onClick={() => lower(mud)}
          >
            Lower
          </button>
        </li>
      )}
      {look.resonances.length === 0 && (
        <li className="text-ink-2">No narrow peak is 12 dB above its surroundings.</li>
      )}
      {look.resonances.map((one) => (
        <li key={one.hz} className="flex min-h-6 items-center gap-2">
          <span className="figure flex-1">{formatValue(one.hz, "Hz")}</span>
          <span className="figure text-ink-2" title="Relative to its surroundings">
            +{one.over_db.toFixed(0)} dB
          </span>
          {isOwnPitch(one.hz, own, PEAK_OCTAVES) ? (
            <span className="px-2 text-ink-2" title="What the sound is tuned to is not cut">
              its pitch
            </span>
          ) : (
            <button
              type="button"
              disabled={!freeBand(part)}
              aria-label={`Cut at ${formatValue(one.hz, "Hz")}`}
              className="min-h-6 rounded-control border border-line-strong px-2 text-action hover:bg-band disabled:opacity-40"
              onClick={() => cut(one)}
            >
              Cut
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
