import type { Declarations, Layer, Processor } from "../api/types";
import { PIGMENTS } from "../ui/pigments";
import { withLayer, withProcessor } from "./edits";
import { PartFields } from "./PartFields";
import { PointTable } from "./PointTable";
import { ProcessorPicture } from "./ProcessorPicture";
import { ShapeButtons } from "./ShapeButtons";
import { edit, useBench } from "./store";

/** Whatever is selected, as exact numbers. */
export function Inspector({ declarations }: { declarations: Declarations }) {
  const sound = useBench((state) => state.document);
  const selection = useBench((state) => state.selection);
  if (!sound) return null;
  const layer =
    selection.kind === "layer" ? sound.layers.find(({ id }) => id === selection.id) : undefined;
  const processor =
    selection.kind === "processor"
      ? sound.main.chain.find(({ id }) => id === selection.id)
      : undefined;
  return (
    <aside
      aria-label="Inspector"
      className="min-h-0 overflow-y-auto border-l border-line-strong bg-panel px-3.5 py-3"
    >
      {layer ? (
        <LayerFields key={layer.id} layer={layer} declarations={declarations} />
      ) : processor ? (
        <ProcessorFields key={processor.id} processor={processor} declarations={declarations} />
      ) : (
        <MainFields declarations={declarations} />
      )}
    </aside>
  );
}

function Section({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: string;
  children: React.ReactNode;
}) {
  return (
    <section className="mt-3">
      <h3 className="mb-1 flex justify-between text-[12px] font-semibold text-ink-2">
        {title} {aside && <span className="font-normal">{aside}</span>}
      </h3>
      {children}
    </section>
  );
}

function LayerFields({ layer, declarations }: { layer: Layer; declarations: Declarations }) {
  const curveName = useBench((state) => state.curves[layer.id] ?? "level");
  const { glyph, colour } = PIGMENTS[layer.pigment];
  const { source } = layer;
  const patchLayer = (label: string, patch: object, how: { gesture: string; moving: boolean }) =>
    edit(label, (sound) => withLayer(sound, layer.id, (now) => ({ ...now, ...patch })), how);
  const patchSource = (label: string, patch: object, how: { gesture: string; moving: boolean }) =>
    edit(
      label,
      (sound) =>
        withLayer(sound, layer.id, (now) => ({ ...now, source: { ...now.source, ...patch } })),
      how,
    );
  const rename = (name: string) => {
    const next = name.trim().slice(0, 60);
    if (next !== "" && next !== layer.name)
      patchLayer(
        `${layer.name}: named ${next}`,
        { name: next },
        { gesture: "name", moving: false },
      );
  };
  return (
    <>
      <h2 className="flex items-center gap-2">
        <span aria-hidden style={{ color: colour }}>
          {glyph}
        </span>
        <input
          aria-label="Name of the layer"
          className="min-w-0 flex-1 bg-transparent font-title text-[16px] font-semibold"
          key={layer.name}
          defaultValue={layer.name}
          maxLength={60}
          onBlur={(event) => rename(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
        <span className="text-ink-2">{source.kind}</span>
      </h2>
      {source.kind === "tone" && (
        <Section title="Cycle">
          <ShapeButtons
            shape={source.shape}
            width={source.width}
            onShape={(shape, name) =>
              patchSource(`${layer.name}: ${name}`, { shape }, { gesture: "shape", moving: false })
            }
          />
        </Section>
      )}
      <Section
        title="Source"
        aside={source.kind === "tone" && source.follows_note ? "follows note" : ""}
      >
        <PartFields
          owner={layer.name}
          declaration={declarations.sources[source.kind]}
          part={source}
          onChange={patchSource}
          disabled={(name) =>
            source.kind === "tone" &&
            ((name === "fixed_hz" && source.follows_note) ||
              (name === "width" && source.shape <= 2))
          }
        />
      </Section>
      <Section title="Output of the layer">
        <PartFields
          owner={layer.name}
          declaration={declarations.layer}
          part={layer}
          except={["mute", "solo", "pigment", "name"]}
          onChange={patchLayer}
        />
      </Section>
      <Section
        title={`${curveName === "level" ? "Level" : "Pitch"} curve`}
        aside={layer[curveName].release.length > 0 ? "held" : "one-shot"}
      >
        <PointTable layer={layer} curveName={curveName} declarations={declarations} />
      </Section>
    </>
  );
}

export const PROCESSOR_NAMES: Record<Processor["kind"], string> = {
  filter: "Filter",
  drive: "Drive",
};

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
        {name} <span className="font-sans text-[13px] font-normal text-ink-2">on main</span>
      </h2>
      <div className="mt-3 rounded-control border border-line bg-sheet">
        <ProcessorPicture processor={processor} width={282} height={88} />
      </div>
      <Section title="Settings">
        <PartFields
          owner={name}
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

function MainFields({ declarations }: { declarations: Declarations }) {
  const main = useBench((state) => state.document?.main);
  if (!main) return null;
  return (
    <>
      <h2 className="font-title text-[16px] font-semibold">Main output</h2>
      <p className="mt-1 text-ink-2">The sum of all layers, after the main chain.</p>
      <Section title="Level of the whole sound">
        <PartFields
          owner="Main"
          declaration={declarations.main}
          part={main}
          onChange={(label, patch, how) =>
            edit(label, (sound) => ({ ...sound, main: { ...sound.main, ...patch } }), how)
          }
        />
      </Section>
    </>
  );
}
