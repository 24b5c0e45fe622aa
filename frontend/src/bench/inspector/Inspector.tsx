import type { Declarations, Sound } from "../../api";
import { CurveSection } from "../curves";
import { COMMON_PITCH, findProcessor, isPitched, withLayer, edit, useBench } from "../../sound";
import { CurveMoves, MoverFields } from "../movers";
import { LinkRing, PartFields, Section } from "../parts";
import { ChanceFields } from "./ChanceFields";
import { HeldValues, Meters } from "../judging";
import { NotesFields } from "../playing";
import { BusFields } from "../path";
import { ProcessorFields } from "../path/inspect";
import { LayerFields } from "./LayerFields";
import { StandingPicture } from "../reference";

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
      className="absolute inset-0 overflow-y-auto border-l border-line-strong bg-panel px-3.5 py-3"
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

function CommonPitchFields({ sound, declarations }: { sound: Sound; declarations: Declarations }) {
  return (
    <>
      <h2 className="font-title text-[16px] font-semibold">Common pitch</h2>
      <p className="mt-1 text-ink-2">
        Added to the pitch of every layer that follows it, from the start of the hit.
      </p>
      <Section title="Pitch curve" aside={sound.pitch.release.length > 0 ? "held" : "one-shot"}>
        <CurveSection curveRef={COMMON_PITCH} curve={sound.pitch} declarations={declarations} />
      </Section>
      <div className="mt-2 flex min-h-6 items-center justify-between">
        Moved by <LinkRing target="common.pitch_st" owner="Common pitch" wide />
      </div>
      <CurveMoves id="common.pitch" name="Common pitch curve" declarations={declarations} />
      <Section title="Layers that follow">
        {sound.layers
          .filter(({ source }) => isPitched(source))
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
      <Meters />
      <StandingPicture />
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
      <Section title="Randomness">
        <ChanceFields sound={sound} />
      </Section>
      <HeldValues sound={sound} declarations={declarations} />
    </>
  );
}
