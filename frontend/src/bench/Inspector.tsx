import type { Declarations, Processor, Sound } from "../api/types";
import { CurveSection } from "./curves/CurveSection";
import { COMMON_PITCH } from "./curves/curveRef";
import { findProcessor, placeOf, withProcessor } from "./chains";
import { withLayer } from "./edits";
import { MoverFields } from "./movers/MoverFields";
import { PROCESSOR_NAMES } from "./processorNames";
import { PartFields } from "./PartFields";
import { ChanceFields } from "./ChanceFields";
import { HeldValues } from "./judging/HeldValues";
import { NotesFields } from "./playing/NotesFields";
import { BusFields } from "./path/BusFields";
import { ProcessorPicture } from "./path/ProcessorPicture";
import { LayerFields } from "./LayerFields";
import { Section } from "./Section";
import { edit, useBench } from "./store";
import { noteToHz } from "../ui/notes";
import { formatValue } from "../ui/units";

/** Whatever is selected, as exact numbers. */
export function Inspector({ declarations }: { declarations: Declarations }) {
  const sound = useBench((state) => state.document);
  const selection = useBench((state) => state.selection);
  if (!sound) return null;
  const layer =
    selection.kind === "layer" ? sound.layers.find(({ id }) => id === selection.id) : undefined;
  const processor = selection.kind === "processor" ? findProcessor(sound, selection.id) : undefined;
  const mover =
    selection.kind === "mover" ? sound.movers.find(({ id }) => id === selection.id) : undefined;
  const bus =
    selection.kind === "bus" ? sound.buses.find(({ id }) => id === selection.id) : undefined;
  return (
    <aside
      aria-label="Inspector"
      className="min-h-0 overflow-y-auto border-l border-line-strong bg-panel px-3.5 py-3"
    >
      {layer ? (
        <LayerFields key={layer.id} layer={layer} declarations={declarations} />
      ) : processor ? (
        <ProcessorFields key={processor.id} processor={processor} declarations={declarations} />
      ) : mover ? (
        <MoverFields key={mover.id} mover={mover} declarations={declarations} />
      ) : bus ? (
        <BusFields key={bus.id} bus={bus} declarations={declarations} />
      ) : selection.kind === "notes" ? (
        <NotesFields sound={sound} declarations={declarations} />
      ) : selection.kind === "pitch" ? (
        <CommonPitchFields sound={sound} declarations={declarations} />
      ) : (
        <MainFields sound={sound} declarations={declarations} />
      )}
    </aside>
  );
}

function ProcessorFields({
  processor,
  declarations,
}: {
  processor: Processor;
  declarations: Declarations;
}) {
  const name = PROCESSOR_NAMES[processor.kind];
  return (
    <>
      <h2 className="flex items-baseline gap-2 font-title text-[16px] font-semibold">
        {name} <WhereItStands id={processor.id} />
      </h2>
      <div className="mt-3 rounded-control border border-line bg-sheet">
        <ProcessorPicture processor={processor} width={282} height={88} />
      </div>
      {processor.kind === "comb" && <RingTime comb={processor} />}
      <Section title="Settings">
        <PartFields
          owner={name}
          disabled={(field) => idle(processor, field)}
          partId={processor.id}
          declaration={declarations.processors[processor.kind]}
          part={processor}
          onChange={(label, patch, how) =>
            edit(
              label,
              (sound) => withProcessor(sound, processor.id, (now) => ({ ...now, ...patch })),
              how,
            )
          }
        />
      </Section>
    </>
  );
}

/** Fields that do nothing with the others as they are. */
function idle(part: Processor, field: string): boolean {
  if (part.kind === "comb")
    return part.follows_note ? field === "frequency_hz" : field === "transpose_st";
  if (part.kind === "delay") return field === (part.sync ? "time_s" : "beats");
  const shaped =
    part.kind === "filter" && ["peak", "low_shelf", "high_shelf"].includes(part.response);
  return part.kind === "filter" && field === "gain_db" && !shaped;
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
    <span className="font-sans text-[13px] font-normal text-ink-2">
      on {owner?.ref === "main" ? "main" : owner?.name}
    </span>
  );
}

function CommonPitchFields({ sound, declarations }: { sound: Sound; declarations: Declarations }) {
  return (
    <>
      <h2 className="font-title text-[16px] font-semibold">Common pitch</h2>
      <p className="mt-1 text-ink-2">
        Added to the pitch of every tone that follows it, from the start of the hit.
      </p>
      <Section title="Pitch curve" aside={sound.pitch.release.length > 0 ? "held" : "one-shot"}>
        <CurveSection curveRef={COMMON_PITCH} curve={sound.pitch} declarations={declarations} />
      </Section>
      <Section title="Who follows">
        {sound.layers
          .filter(({ source }) => source.kind === "tone")
          .map((layer) => (
            <label key={layer.id} className="flex min-h-6 items-center justify-between">
              {layer.name}
              <input
                type="checkbox"
                className="size-4 accent-action"
                checked={layer.follows_pitch}
                onChange={({ target }) =>
                  edit(
                    `${layer.name}: ${target.checked ? "follows" : "leaves"} the common pitch`,
                    (now) =>
                      withLayer(now, layer.id, (one) => ({
                        ...one,
                        follows_pitch: target.checked,
                      })),
                  )
                }
              />
            </label>
          ))}
      </Section>
    </>
  );
}

function MainFields({ sound, declarations }: { sound: Sound; declarations: Declarations }) {
  return (
    <>
      <h2 className="font-title text-[16px] font-semibold">Main output</h2>
      <p className="mt-1 text-ink-2">The sum of all layers, after the main chain.</p>
      <Section title="Level of the whole sound">
        <PartFields
          owner="Main"
          partId="main"
          declaration={declarations.main}
          part={sound.main}
          onChange={(label, patch, how) =>
            edit(label, (now) => ({ ...now, main: { ...now.main, ...patch } }), how)
          }
        />
      </Section>
      <Section title="Chance">
        <ChanceFields sound={sound} />
      </Section>
      <HeldValues sound={sound} declarations={declarations} />
    </>
  );
}
