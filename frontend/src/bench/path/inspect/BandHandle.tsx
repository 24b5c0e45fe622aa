import { formatValue } from "../../../ui";
import { type Band, type BandName, hasGain } from "../picture";
import { bandTitle, held, SPAN_DB, xOf, yOf } from "./equaliserPlane";

interface HandleProps {
  name: BandName;
  band: Band;
  chosen: boolean;
  onTake: () => void;
  onDrag: (event: React.PointerEvent, moving: boolean) => void;
  onNudge: (patch: Partial<Band>, words: string) => void;
}

/** A band's mark: dragged, nudged by arrow keys, sharpened by the wheel, removed by Delete. */
export function BandHandle({ name, band, chosen, onTake, onDrag, onNudge }: HandleProps) {
  const x = xOf(held(band.frequency_hz, 20, 20000));
  const y = yOf(hasGain(band) ? band.gain_db : 0);
  const sharpen = (factor: number) => {
    const sharpness = Number(held(band.sharpness * factor, 0.1, 40).toPrecision(3));
    onNudge({ sharpness }, `${bandTitle(name)} sharpness ${sharpness}`);
  };
  const key = (event: React.KeyboardEvent) => {
    const fine = event.altKey ? 0.1 : event.shiftKey ? 3 : 1;
    const moves: Record<string, () => void> = {
      ArrowLeft: () => nudgeHz(-fine),
      ArrowRight: () => nudgeHz(fine),
      ArrowUp: () => nudgeDb(fine),
      ArrowDown: () => nudgeDb(-fine),
      Delete: () =>
        onNudge(
          { gain_db: 0, ...(hasGain(band) ? {} : { on: false }) },
          `${bandTitle(name)} removed`,
        ),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    move();
  };
  const nudgeHz = (steps: number) => {
    const hz = Number(held(band.frequency_hz * 2 ** (steps / 12), 20, 20000).toPrecision(4));
    onNudge({ frequency_hz: hz }, `${bandTitle(name)} ${formatValue(hz, "Hz")}`);
  };
  const nudgeDb = (steps: number) => {
    if (!hasGain(band)) return;
    const db = Math.round(100 * held(band.gain_db + 0.5 * steps, -SPAN_DB, SPAN_DB)) / 100;
    onNudge({ gain_db: db }, `${bandTitle(name)} ${formatValue(db, "dB")}`);
  };
  return (
    <g
      tabIndex={0}
      role="slider"
      aria-label={`Equaliser ${bandTitle(name)}`}
      aria-valuenow={band.gain_db}
      aria-valuetext={`${formatValue(band.frequency_hz, "Hz")}, ${formatValue(band.gain_db, "dB")}`}
      className="cursor-grab"
      onFocus={onTake}
      onKeyDown={key}
      onWheel={(event) => sharpen(event.deltaY < 0 ? 1.08 : 1 / 1.08)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        onTake();
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onDrag(event, true);
      }}
      onPointerUp={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onDrag(event, false);
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onNudge({ gain_db: 0 }, `${bandTitle(name)} 0 dB`);
      }}
    >
      <circle cx={x} cy={y} r={12} fill="transparent" />
      <circle
        cx={x}
        cy={y}
        r={6.5}
        fill={chosen ? "var(--ink)" : "var(--sheet)"}
        stroke="var(--ink)"
      />
      <text
        x={x}
        y={y + 3}
        fontSize={9}
        textAnchor="middle"
        fill={chosen ? "var(--sheet)" : "var(--ink)"}
      >
        {name.at(-1)}
      </text>
    </g>
  );
}
