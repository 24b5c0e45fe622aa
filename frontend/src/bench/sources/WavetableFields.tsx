import type { WavetableSource } from "../../api";
import { PartFields, Section } from "../parts";
import { PitchFields, UnisonFields } from "./PitchFields";
import type { SourceProps } from "./sourceProps";
import { TableEditor } from "./TableEditor";
import { PlaceLine, TablePicture } from "./TablePicture";
import { useSourceLook } from "./useSourceLook";

const READING = ["position", "reading", "scan", "scan_s", "phase_deg", "phase_random"];

/** A wavetable: all its frames with where the hit reads them, what it is made of, and how it is read. */
export function WavetableFields(props: SourceProps<WavetableSource>) {
  const { owner, layerId, source, declarations, onChange } = props;
  const { look, problem } = useSourceLook(layerId);
  return (
    <>
      <Section title="Table" aside={look?.cycles ? `${look.cycles.frames} frames` : ""}>
        {look?.cycles && (
          <TablePicture cycles={look.cycles} places={look.places} width={282} height={128} />
        )}
        {look && look.places.length > 1 && (
          <PlaceLine places={look.places} placesS={look.places_s} />
        )}
        {problem && (
          <p role="alert" className="mb-1 text-[12px] text-bad">
            {problem}
          </p>
        )}
        <TableEditor {...props} cycles={look?.cycles ?? null} />
      </Section>
      <Section title="Reading">
        <PartFields
          owner={owner}
          declaration={declarations.sources.wavetable}
          part={source}
          only={READING}
          partId={layerId}
          path="source."
          onChange={onChange}
          idle={(name) =>
            name === "scan_s" && source.scan === "still" ? "Only while it scans" : null
          }
        />
      </Section>
      <PitchFields {...props} />
      <UnisonFields {...props} />
    </>
  );
}
