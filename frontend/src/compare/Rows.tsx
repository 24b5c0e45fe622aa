import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import type { ComparedAnswer } from "../api";
import { formatValue, hzToNote, noteName, type TimeScale } from "../ui";
import { DifferenceMap } from "./DifferenceMap";
import { FLOOR_DB, GROUPS, groupLevels, pitchAt, pitchRange } from "./levels";
import { LABEL_WIDTH } from "./layout";
import { lettersOf } from "./letters";
import { Lines } from "./Lines";
import { Marks } from "./Marks";
import { Ruler } from "./Ruler";
import { SideSpectrogram } from "./SideSpectrogram";
import { useCompare } from "./store";
import { Waves } from "./Waves";
import { rangeText } from "./words";

interface Props {
  compared: ComparedAnswer;
  scale: TimeScale;
}

/** All pictures on one ruler; what is pointed at is written for every side. */
export function Rows({ compared, scale }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const point = (event: React.PointerEvent) => {
    const left = place.current?.getBoundingClientRect().left ?? 0;
    const timeS = scale.time(event.clientX - left - LABEL_WIDTH);
    const inside = timeS >= 0 && timeS <= compared.length_s;
    useCompare.setState({ pointedAtS: inside ? timeS : null });
  };
  useEffect(() => () => useCompare.setState({ pointedAtS: null }), []);
  const waves = compared.sides.length * (compared.sides.length > 2 ? 46 : 66);
  return (
    <div
      ref={place}
      className="relative"
      onPointerMove={point}
      onPointerLeave={() => useCompare.setState({ pointedAtS: null })}
    >
      <Ruler scale={scale} lengthS={compared.length_s} />
      <Row title="Waveform" height={waves}>
        <Waves compared={compared} scale={scale} height={waves} />
      </Row>
      <LevelRow compared={compared} scale={scale} />
      <PitchRow compared={compared} scale={scale} />
      {compared.sides.map((side, n) => (
        <Row key={n} title={`Spectrum of ${lettersOf(n).letter}`} height={72}>
          <SideSpectrogram side={side} lengthS={compared.length_s} scale={scale} place={n} />
        </Row>
      ))}
      <MapRow compared={compared} scale={scale} />
      <Marks scale={scale} left={LABEL_WIDTH} />
    </div>
  );
}

interface RowProps {
  title: string;
  height: number;
  label?: ReactNode;
  children: ReactNode;
}

function Row({ title, height, label, children }: RowProps) {
  return (
    <section aria-label={title} className="flex border-b border-line" style={{ height }}>
      <div
        className="shrink-0 overflow-hidden border-r border-line px-3 py-1.5"
        style={{ width: LABEL_WIDTH }}
      >
        <h2 className="font-semibold">{title}</h2>
        {label}
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">{children}</div>
    </section>
  );
}

/** What each side has at the moment that is pointed at. */
function Readings({ values }: { values: (string | null)[] }) {
  if (values.every((one) => one === null)) return null;
  return (
    <dl className="figure grid grid-cols-[auto_1fr] gap-x-1.5 text-[11px] leading-[14px]">
      {values.map((value, n) => (
        <div key={n} className="contents">
          <dt style={{ color: lettersOf(n).colour }}>{lettersOf(n).letter}</dt>
          <dd>{value ?? "–"}</dd>
        </div>
      ))}
    </dl>
  );
}

function LevelRow({ compared, scale }: Props) {
  const [chosen, setChosen] = useState(0);
  const pointed = useCompare((state) => state.pointedAtS);
  const group = GROUPS[chosen] ?? GROUPS[0];
  const curves = useMemo(
    () => compared.sides.map((side) => groupLevels(side, compared.edges_hz, group)),
    [compared, group],
  );
  const step = pointed === null ? null : Math.floor(pointed / compared.step_s);
  const top = Math.max(-60, ...curves.map((one) => one.reduce((a, b) => Math.max(a, b), FLOOR_DB)));
  const range = { top: top + 3, bottom: top - 60 };
  return (
    <Row
      title="Level"
      height={120}
      label={
        <>
          <select
            aria-label="Bands of the level"
            className="my-0.5 h-6 w-full rounded-sm border border-line bg-sheet text-[11px]"
            value={chosen}
            onChange={({ target }) => setChosen(Number(target.value))}
          >
            {GROUPS.map(({ name }, n) => (
              <option key={name} value={n}>
                {name}
              </option>
            ))}
          </select>
          {step !== null && (
            <Readings
              values={curves.map((one) => {
                const db = one[step];
                return db === undefined || db <= FLOOR_DB ? null : `${db.toFixed(1)} dB`;
              })}
            />
          )}
        </>
      }
    >
      <Lines
        label={`Level over time, ${group.name}`}
        scale={scale}
        height={120}
        lines={curves.map((one) =>
          Array.from(one, (db, n) => ({ timeS: (n + 0.5) * compared.step_s, value: db })),
        )}
        place={(db) => (range.top - db) / (range.top - range.bottom)}
      />
    </Row>
  );
}

function PitchRow({ compared, scale }: Props) {
  const pointed = useCompare((state) => state.pointedAtS);
  const range = pitchRange(compared.sides);
  const written = (hz: number | null) =>
    hz === null ? null : `${formatValue(hz, "Hz")} ${noteName(Math.round(hzToNote(hz)))}`;
  if (!range) return null;
  const { low, high } = range;
  return (
    <Row
      title="Pitch"
      height={84}
      label={
        pointed === null ? (
          <p className="figure text-[11px] text-ink-2">{rangeText(low, high)}</p>
        ) : (
          <Readings values={compared.sides.map((side) => written(pitchAt(side, pointed)))} />
        )
      }
    >
      <Lines
        label="Pitch over time"
        scale={scale}
        height={84}
        lines={compared.sides.map(({ pitch }) =>
          pitch.time_s.map((timeS, n) => ({ timeS, value: pitch.hz[n] ?? low })),
        )}
        place={(hz) => Math.log(high / hz) / Math.log(high / low)}
      />
    </Row>
  );
}

function MapRow({ compared, scale }: Props) {
  const beside = useCompare((state) => state.beside);
  const place = Math.min(beside, compared.pairs.length);
  const { letter, colour } = lettersOf(place);
  return (
    <Row
      title="Difference"
      height={136}
      label={
        <div className="text-[11px] text-ink-2">
          <p>
            <span aria-hidden style={{ color: lettersOf(0).colour }}>
              ■
            </span>{" "}
            A louder
          </p>
          <p>
            <span aria-hidden style={{ color: colour }}>
              ■
            </span>{" "}
            {letter} louder
          </p>
        </div>
      }
    >
      <DifferenceMap compared={compared} place={place} scale={scale} height={136} />
    </Row>
  );
}
