import { useRef, useState } from "react";
import type { Declarations, ProcessorLook } from "../../../api";
import { formatValue } from "../../../ui";
import { withProcessor, edit } from "../../../sound";
import { PartFields } from "../../parts";
import {
  type Band,
  BAND_NAMES,
  type BandName,
  equaliserDb,
  type Equaliser,
  freeBand,
  hasGain,
} from "../picture";
import { BandHandle } from "./BandHandle";
import {
  bandTitle,
  dbOf,
  GRID_HZ,
  HEIGHT,
  held,
  hzOf,
  SPAN_DB,
  WIDTH,
  xOf,
  yOf,
} from "./equaliserPlane";
import { SpectrumLines } from "./SpectrumLines";

interface Props {
  part: Equaliser;
  look: ProcessorLook | null;
  declarations: Declarations;
}

function changeBand(
  part: Equaliser,
  name: BandName,
  patch: Partial<Band>,
  words: string,
  moving = false,
) {
  edit(
    `Equaliser: ${words}`,
    (sound) =>
      withProcessor(sound, part.id, (now) =>
        now.kind === "equaliser" ? { ...now, [name]: { ...now[name], ...patch } } : now,
      ),
    { gesture: `${part.id}.${name}`, moving },
  );
}

/** Eight bands dragged on the response, over the sound's own spectrum before and after. */
export function EqualiserEditor({ part, look, declarations }: Props) {
  const [chosen, setChosen] = useState<BandName>("band_4");
  const svg = useRef<SVGSVGElement>(null);
  const place = (event: React.PointerEvent | React.MouseEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { hz: 1000, db: 0 };
    const x = ((event.clientX - box.left) / box.width) * WIDTH;
    const y = ((event.clientY - box.top) / box.height) * HEIGHT;
    return {
      hz: held(hzOf(held(x, 0, WIDTH)), 20, 20000),
      db: Math.round(10 * held(dbOf(y), -SPAN_DB, SPAN_DB)) / 10,
    };
  };
  const drag = (name: BandName, event: React.PointerEvent, moving: boolean) => {
    const { hz, db } = place(event);
    const gain = hasGain(part[name]) ? { gain_db: db } : {};
    const words = `${bandTitle(name)} ${formatValue(hz, "Hz")}${hasGain(part[name]) ? `, ${formatValue(db, "dB")}` : ""}`;
    changeBand(part, name, { frequency_hz: Number(hz.toPrecision(4)), ...gain }, words, moving);
  };
  const addAt = (event: React.MouseEvent) => {
    const name = freeBand(part);
    if (!name) return;
    const { hz, db } = place(event);
    const patch = {
      on: true,
      response: "peak" as const,
      frequency_hz: Number(hz.toPrecision(4)),
      gain_db: db,
    };
    changeBand(part, name, patch, `${bandTitle(name)} placed at ${formatValue(hz, "Hz")}`);
    setChosen(name);
  };
  const line = Array.from({ length: 142 }, (_, n) => {
    const x = n * 2;
    return `${x} ${held(yOf(equaliserDb(part, hzOf(x))), -4, HEIGHT + 4).toFixed(1)}`;
  });
  return (
    <>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-3 block w-full touch-none rounded-control border border-line bg-sheet"
        onDoubleClick={addAt}
        role="group"
        aria-label="Response; double-click to add a band"
      >
        {GRID_HZ.map((hz) => (
          <line key={hz} x1={xOf(hz)} x2={xOf(hz)} y1={0} y2={HEIGHT} stroke="var(--line)" />
        ))}
        <line x1={0} x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke="var(--line-strong)" />
        {look && <SpectrumLines look={look} width={WIDTH} height={HEIGHT} x={xOf} />}
        <path
          d={`M${line.join("L")}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={1.6}
          opacity={part.on ? 1 : 0.35}
        />
        {[100, 1000, 10000].map((hz) => (
          <text key={hz} x={xOf(hz) + 2} y={HEIGHT - 4} fontSize={9} fill="var(--ink-2)">
            {hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`}
          </text>
        ))}
        {BAND_NAMES.filter((name) => part[name].on).map((name) => (
          <BandHandle
            key={name}
            name={name}
            band={part[name]}
            chosen={chosen === name}
            onTake={() => setChosen(name)}
            onDrag={(event, moving) => drag(name, event, moving)}
            onNudge={(patch, words) => changeBand(part, name, patch, words)}
          />
        ))}
      </svg>
      <BandRow part={part} chosen={chosen} onChoose={setChosen} />
      <PartFields
        owner={`Equaliser ${bandTitle(chosen)}`}
        partId={part.id}
        path={`${chosen}.`}
        declaration={declarations.processors.equaliser.parts?.[chosen] ?? NO_FIELDS}
        part={part[chosen]}
        idle={(field) =>
          field === "gain_db" && !hasGain(part[chosen]) ? "A cut has no gain" : null
        }
        onChange={(label, patch, { moving }) =>
          changeBand(part, chosen, patch, label.replace(/^Equaliser /, ""), moving)
        }
      />
    </>
  );
}

const NO_FIELDS = { help: "", parameters: [], choices: [] };

/** The bands by number, those that are off faint; one is selected. */
function BandRow({
  part,
  chosen,
  onChoose,
}: {
  part: Equaliser;
  chosen: BandName;
  onChoose: (name: BandName) => void;
}) {
  return (
    <div className="my-1.5 flex justify-between" role="group" aria-label="Bands">
      {BAND_NAMES.map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={chosen === name}
          aria-label={`Take ${bandTitle(name)}`}
          onClick={() => onChoose(name)}
          className={`figure grid size-7 place-items-center rounded-control border text-[11.5px] ${chosen === name ? "border-ink bg-ink text-sheet" : "border-line-strong hover:bg-band"} ${part[name].on ? "" : "opacity-45"}`}
        >
          {name.at(-1)}
        </button>
      ))}
    </div>
  );
}
