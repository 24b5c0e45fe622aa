import type { Declarations, Layer } from "../api/types";
import { PIGMENTS } from "../ui/pigments";
import { withLayer } from "./edits";
import { PartFields } from "./PartFields";
import { PointTable } from "./PointTable";
import { Section } from "./Section";
import { edit, useBench } from "./store";
import { ToneFields } from "./ToneFields";

interface Props {
  layer: Layer;
  declarations: Declarations;
}

type How = { gesture: string; moving: boolean };

/** A layer as exact numbers: its source, its output, the curve in hand. */
export function LayerFields({ layer, declarations }: Props) {
  const curveName = useBench((state) => state.curves[layer.id] ?? "level");
  const { source } = layer;
  const patchLayer = (label: string, patch: object, how: How) =>
    edit(label, (sound) => withLayer(sound, layer.id, (now) => ({ ...now, ...patch })), how);
  const patchSource = (label: string, patch: object, how: How) =>
    edit(
      label,
      (sound) =>
        withLayer(sound, layer.id, (now) => ({ ...now, source: { ...now.source, ...patch } })),
      how,
    );
  return (
    <>
      <LayerName layer={layer} onRename={patchLayer} />
      {source.kind === "tone" ? (
        <ToneFields
          owner={layer.name}
          source={source}
          declarations={declarations}
          onChange={patchSource}
        />
      ) : (
        <Section title="Source">
          <PartFields
            owner={layer.name}
            declaration={declarations.sources[source.kind]}
            part={source}
            onChange={patchSource}
            disabled={(name) => name === "rate_hz" && source.texture === "even"}
          />
        </Section>
      )}
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

interface LayerNameProps {
  layer: Layer;
  onRename: (label: string, patch: object, how: How) => void;
}

function LayerName({ layer, onRename }: LayerNameProps) {
  const { glyph, colour } = PIGMENTS[layer.pigment];
  const rename = (name: string) => {
    const next = name.trim().slice(0, 60);
    if (next !== "" && next !== layer.name)
      onRename(`${layer.name}: named ${next}`, { name: next }, { gesture: "name", moving: false });
  };
  return (
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
      <span className="text-ink-2">{layer.source.kind}</span>
    </h2>
  );
}
