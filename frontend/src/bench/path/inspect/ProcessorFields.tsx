import type { Declarations, Processor } from "../../../api";
import { noteToHz, formatValue } from "../../../ui";
import { placeOf, withProcessor, processorName, edit, useBench } from "../../../sound";
import { PartFields, Section } from "../../parts";
import { ProcessorMenu, SendList } from "..";
import { ProcessorPicture } from "../picture";
import { CombKindField } from "./CombKindField";
import { DrawnTransfer } from "./DrawnTransfer";
import { EqualiserEditor } from "./EqualiserEditor";
import { ForkFields } from "./ForkFields";
import { GainPicture } from "./GainPicture";
import {
  MultibandFields,
  NoteLengthField,
  RecordingField,
  SideField,
  TuningField,
} from "./KindFields";
import { LoopFilterFields } from "./LoopFilterFields";
import { LookFigures } from "./LookFigures";
import { ResonanceList } from "./ResonanceList";
import { useLook } from "./useLook";

/** What every processor has, apart from what it does. */
const COMMON = ["mix", "level_db", "keep_loudness", "band", "split_hz"];

interface Props {
  processor: Processor;
  declarations: Declarations;
}

/** A processor as its picture, its numbers, and what it does to this sound. */
export function ProcessorFields({ processor, declarations }: Props) {
  const name = processorName(processor.kind);
  const look = useLook(processor.id);
  const fields = {
    owner: name,
    disabled: (field: string) => idle(processor, field),
    partId: processor.id,
    declaration: declarations.processors[processor.kind],
    part: processor,
    onChange: (
      label: string,
      patch: Record<string, unknown>,
      how: { gesture: string; moving: boolean },
    ) =>
      edit(
        label,
        (sound) => withProcessor(sound, processor.id, (now) => ({ ...now, ...patch }) as Processor),
        how,
      ),
  };
  return (
    <>
      <h2 className="flex items-baseline gap-2 font-title text-[16px] font-semibold">
        {name} <WhereItStands id={processor.id} />
        <span className="ml-auto self-center">
          <ProcessorMenu part={processor} />
        </span>
      </h2>
      {processor.kind === "equaliser" ? (
        <EqualiserEditor part={processor} look={look} declarations={declarations} />
      ) : processor.kind === "drive" && processor.shape === "drawn" ? (
        <DrawnTransfer part={processor} />
      ) : (
        <div className="mt-3 rounded-control border border-line bg-sheet">
          <ProcessorPicture processor={processor} width={282} height={88} />
        </div>
      )}
      {look && look.gains.length > 0 && <GainPicture gains={look.gains} />}
      {processor.kind === "comb" && <RingTime comb={processor} />}
      {look && <LookFigures part={processor} look={look} />}
      {processor.kind === "equaliser" && look && (
        <Section title="Resonances">
          <ResonanceList part={processor} look={look} />
        </Section>
      )}
      {processor.kind !== "equaliser" && processor.kind !== "fork" && (
        <Section title="Settings">
          <OfKind processor={processor} />
          <PartFields {...fields} except={[...COMMON, "on"]} />
          {(processor.kind === "delay" || processor.kind === "pitch_delay") && (
            <LoopFilterFields part={processor} declarations={declarations} />
          )}
        </Section>
      )}
      {processor.kind === "fork" && <ForkFields part={processor} declarations={declarations} />}
      {processor.kind === "multiband" && (
        <MultibandFields part={processor} declarations={declarations} />
      )}
      <Section title="In its chain">
        <PartFields {...fields} only={["on", ...COMMON]} />
      </Section>
      <SendList source={processor.id} name={name} />
    </>
  );
}

/** Fields that are more than a number or a choice. */
function OfKind({ processor }: { processor: Processor }) {
  switch (processor.kind) {
    case "comb":
      return <CombKindField part={processor} />;
    case "compressor":
    case "gate":
      return <SideField part={processor} />;
    case "delay":
    case "pitch_delay":
      return <NoteLengthField part={processor} />;
    case "resonators":
      return <TuningField part={processor} />;
    case "convolution":
      return <RecordingField part={processor} />;
    default:
      return null;
  }
}

/** Fields that do nothing with the others as they are. */
function idle(part: Processor, field: string): boolean {
  if (field === "split_hz") return part.band === "all";
  switch (part.kind) {
    case "comb":
      return part.follows_note ? field === "frequency_hz" : field === "transpose_st";
    case "resonators":
      return part.follows_note ? field === "frequency_hz" : field === "transpose_st";
    case "delay":
      if (field === "wobble_hz") return part.wobble_s === 0;
      return field === (part.sync ? "time_s" : "beats");
    case "pitch_delay":
      return field === (part.sync ? "time_s" : "beats");
    case "filter":
      return field === "gain_db" && !["peak", "low_shelf", "high_shelf"].includes(part.response);
    default:
      return false;
  }
}

/** How long a comb rings, from its period and its feedback; near 100 % it is said to be long. */
function RingTime({ comb }: { comb: Extract<Processor, { kind: "comb" }> }) {
  const note = useBench((state) => state.document?.hit.note ?? 60);
  const hz = comb.follows_note ? noteToHz(note + comb.transpose_st) : comb.frequency_hz;
  const rounds = -Math.log(Math.max(1e-6, Math.abs(comb.feedback)));
  const ringS = 6.91 / hz / Math.max(1e-6, rounds);
  const long = Math.abs(comb.feedback) > 0.99;
  return (
    <p className={`mt-1 text-[12px] ${long ? "text-warn" : "text-ink-2"}`}>
      Rings {formatValue(ringS, "s")} at {formatValue(hz, "Hz")} without damping
      {long ? ": very long, loop gain above 0.99" : ""}
    </p>
  );
}

function WhereItStands({ id }: { id: string }) {
  const sound = useBench((state) => state.document);
  const owner = sound && placeOf(sound, id);
  return (
    <span className="truncate font-sans text-[13px] font-normal text-ink-2">
      on {owner?.ref === "main" ? "main" : owner?.name}
    </span>
  );
}
