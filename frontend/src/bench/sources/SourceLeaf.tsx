import type { Declarations, Layer } from "../../api";
import { withLayer, edit } from "../../sound";
import { PartFields, Section } from "../parts";
import { ToneFields } from "./ToneFields";
import { SampleFields } from "./SampleFields";
import { SourceBrowser } from "./SourceBrowser";
import type { How } from "./sourceProps";
import { StruckFields } from "./StruckFields";
import { WavetableFields } from "./WavetableFields";

interface Props {
  layer: Layer;
  declarations: Declarations;
}

/** What the layer starts from: a list of all that it might, and the fields of what it does. */
export function SourceLeaf({ layer, declarations }: Props) {
  return (
    <>
      <SourceBrowser layer={layer} />
      <KindFields layer={layer} declarations={declarations} />
    </>
  );
}

function KindFields({ layer, declarations }: Props) {
  const { source } = layer;
  const onChange = (label: string, patch: object, how: How) =>
    edit(
      label,
      (sound) =>
        withLayer(sound, layer.id, (now) => ({ ...now, source: { ...now.source, ...patch } })),
      how,
    );
  const props = { owner: layer.name, layerId: layer.id, declarations, onChange };
  switch (source.kind) {
    case "tone":
      return <ToneFields {...props} source={source} />;
    case "wavetable":
      return <WavetableFields {...props} source={source} />;
    case "struck":
      return <StruckFields {...props} source={source} />;
    case "sample":
      return <SampleFields {...props} source={source} />;
    case "noise":
      return (
        <Section title="Noise">
          <PartFields
            owner={layer.name}
            declaration={declarations.sources.noise}
            part={source}
            partId={layer.id}
            path="source."
            onChange={onChange}
            idle={(name) =>
              name === "rate_hz" && source.texture === "even" ? "Not of even noise" : null
            }
          />
        </Section>
      );
  }
}
