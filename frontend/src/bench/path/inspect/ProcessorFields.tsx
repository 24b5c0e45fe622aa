import type { Declarations, Processor } from "../../../api";
import { noteName, noteToHz, formatValue } from "../../../ui";
import { TRACKED_FROM, trackedHz } from "./keyTracking";
import { nameInChain, placeOf, withProcessor, edit, useBench } from "../../../sound";
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
  const name = useBench(({ document: sound }) => {
    const chain = sound ? placeOf(sound, processor.id)?.chain : undefined;
    return nameInChain(chain ?? [processor], processor);
  });
  const look = useLook(processor.id);
  const fields = {
    owner: name,
    idle: (field: string) => idle(processor, field),
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
      {processor.kind === "filter" && <TrackedCutoff filter={processor} />}
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
const GAINED = ["peak", "low_shelf", "high_shelf"];

/** Why a number of a processor has no effect now. */
function idle(part: Processor, field: string): string | null {
  const only = (there: boolean, words: string) => (there ? null : words);
  if (field === "split_hz") return only(part.band !== "all", "Only where a band is chosen");
  switch (part.kind) {
    case "comb":
    case "resonators":
      if (field === "frequency_hz") return only(!part.follows_note, "Only without Key tracking");
      return field === "transpose_st" ? only(part.follows_note, "Only with Key tracking") : null;
    case "delay":
    case "pitch_delay":
      if (part.kind === "delay" && field === "wobble_hz")
        return only(part.wobble_s !== 0, "Only where Wobble is not 0");
      if (field === "time_s") return only(!part.sync, "Only without Tempo sync");
      return field === "beats" ? only(part.sync, "Only with Tempo sync") : null;
    case "filter":
      return field === "gain_db"
        ? only(GAINED.includes(part.response), "Only of a peak or a shelf")
        : null;
    default:
      return null;
  }
}

/** Where the cutoff lies at the note of the hit, as far as it goes with the key. */
function TrackedCutoff({ filter }: { filter: Extract<Processor, { kind: "filter" }> }) {
  const note = useBench((state) => state.document?.hit.note ?? TRACKED_FROM);
  if (filter.key_follow === 0) return null;
  const hz = trackedHz(filter.cutoff_hz, filter.key_follow, note);
  return (
    <p className="mt-1 text-[12px] text-ink-2">
      {formatValue(filter.cutoff_hz, "Hz")} as set at C4 is{" "}
      <b className="text-ink">{formatValue(hz, "Hz")}</b> at {noteName(note)}
    </p>
  );
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
