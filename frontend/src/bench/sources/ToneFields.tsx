import type { ToneSource } from "../../api";
import { PartFields, Section, ShapeButtons } from "../parts";
import { PartialEditor } from "./PartialEditor";
import { PitchFields, UnisonFields } from "./PitchFields";
import type { How, SourceProps } from "./sourceProps";

const CYCLE = ["shape", "width", "skew", "phase_deg", "phase_random", "feedback"];
/** A tone: its cycle (a shape or drawn partials), its pitch, and its voices. */
export function ToneFields(props: SourceProps<ToneSource>) {
  const { owner, layerId, source, declarations, onChange } = props;
  const declaration = declarations.sources.tone;
  const drawn = source.cycle === "partials";
  const idle = (name: string) =>
    name === "width" && source.shape <= 2 ? "Only with a shape above 2, towards the pulse" : null;
  const patchPartials = (label: string, patch: object, how: How) =>
    onChange(label, { partials: { ...source.partials, ...patch } }, how);
  return (
    <>
      <Section title="Cycle">
        <PartFields
          owner={owner}
          declaration={declaration}
          part={source}
          only={["cycle"]}
          onChange={onChange}
        />
        {drawn ? (
          <PartialEditor
            owner={owner}
            partials={source.partials}
            declaration={declarations.partials}
            onChange={patchPartials}
          />
        ) : (
          <ShapeButtons
            shape={source.shape}
            width={source.width}
            onShape={(shape, name) =>
              onChange(`${owner}: ${name}`, { shape }, { gesture: "shape", moving: false })
            }
          />
        )}
        <PartFields
          owner={owner}
          declaration={declaration}
          part={source}
          only={drawn ? CYCLE.slice(2) : CYCLE}
          partId={layerId}
          path="source."
          onChange={onChange}
          idle={idle}
        />
      </Section>
      <PitchFields {...props} />
      <UnisonFields {...props} />
    </>
  );
}
