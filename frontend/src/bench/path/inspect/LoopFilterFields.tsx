import type { Declarations, Parameter, Processor } from "../../../api";
import { edit, useBench, withProcessor } from "../../../sound";
import { FieldRow, formatValue } from "../../../ui";
import { asCuts, asBand, type Cuts } from "./loopFilter";

type Delay = Extract<Processor, { kind: "delay" | "pitch_delay" }>;

interface Props {
  part: Delay;
  declarations: Declarations;
}

/** The filters of an echo's loop as one band: its middle, and how wide it is. */
export function LoopFilterFields({ part, declarations }: Props) {
  const tempoBpm = useBench((state) => state.document?.tempo_bpm ?? 120);
  const { parameters } = declarations.processors[part.kind];
  const low = parameters.find(({ name }) => name === "low_cut_hz");
  const high = parameters.find(({ name }) => name === "high_cut_hz");
  if (!low || !high) return null;
  const band = asBand(part);
  const centre: Parameter = {
    ...low,
    name: "loop_centre",
    label: "Loop centre",
    minimum: low.minimum,
    maximum: high.maximum,
    default: asBand({ low_cut_hz: low.default, high_cut_hz: high.default }).centreHz,
    help: "The middle of the band that the loop's two filters let through.",
  };
  const width: Parameter = {
    ...centre,
    name: "loop_width",
    label: "Loop width",
    unit: "octave",
    scale: "linear",
    minimum: 0,
    maximum: 10,
    step: 0.1,
    default: asBand({ low_cut_hz: low.default, high_cut_hz: high.default }).octaves,
    help: "How many octaves lie between the two filters.",
  };
  const set = (cuts: Cuts, label: string, moving: boolean, gesture: string) =>
    edit(
      label,
      (sound) => withProcessor(sound, part.id, (now) => ({ ...now, ...cuts }) as Processor),
      { gesture: `${part.id}.${gesture}`, moving },
    );
  const limits = { low, high };
  return (
    <>
      <FieldRow
        parameter={centre}
        value={band.centreHz}
        context={{ tempoBpm }}
        onChange={({ value, moving }) =>
          set(
            asCuts({ ...band, centreHz: value }, limits),
            `Loop centre ${formatValue(value, "Hz")}`,
            moving,
            "centre",
          )
        }
      />
      <FieldRow
        parameter={width}
        value={band.octaves}
        context={{ tempoBpm }}
        onChange={({ value, moving }) =>
          set(
            asCuts({ ...band, octaves: value }, limits),
            `Loop width ${formatValue(value, "octave")}`,
            moving,
            "width",
          )
        }
      />
    </>
  );
}
