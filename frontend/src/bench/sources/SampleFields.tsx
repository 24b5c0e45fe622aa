import type { SampleSource } from "../../api";
import { PartFields, Section } from "../parts";
import { PitchFields, UnisonFields } from "./PitchFields";
import { SamplePicture } from "./SamplePicture";
import type { SourceProps } from "./sourceProps";
import { sliceIntoTable } from "./slicing";
import { useSourceLook } from "./useSourceLook";

const PART = ["start_s", "end_s", "snap", "reverse"];
const LOOP = ["loop", "loop_way", "loop_start_s", "loop_end_s", "crossfade_s"];
const READING = ["reading", "speed", "grain_s", "spray_s"];
const HITS = ["advance_s", "random_start_s"];

/** A sample: its outline with what is played of it, its loop, how it is read, and what differs. */
export function SampleFields(props: SourceProps<SampleSource>) {
  const { owner, layerId, source, declarations, onChange } = props;
  const { look, problem } = useSourceLook(layerId);
  const idle = (name: string) => {
    if (source.loop === "off" && LOOP.includes(name) && name !== "loop") return "Only with a loop";
    if (source.loop_way === "back_and_forth" && name === "crossfade_s") return "Only forwards";
    const grains = ["speed", "grain_s", "spray_s"].includes(name);
    return source.reading === "plain" && grains ? "Not with a plain reading" : null;
  };
  const fields = (only: string[]) => (
    <PartFields
      owner={owner}
      declaration={declarations.sources.sample}
      part={source}
      only={only}
      partId={layerId}
      path="source."
      onChange={onChange}
      idle={idle}
    />
  );
  return (
    <>
      <Section title="Recording" aside={source.recording ? source.name : "none"}>
        {look?.outline ? (
          <SamplePicture
            look={look}
            outline={look.outline}
            source={source}
            owner={owner}
            onChange={onChange}
          />
        ) : (
          <p className="mb-1 text-ink-2">
            {problem ?? (source.recording ? "" : "Browse above, or drop a file onto the screen.")}
          </p>
        )}
        {fields(PART)}
        {source.recording && (
          <button
            type="button"
            className="mt-1 min-h-7 w-full rounded-control border border-line-strong bg-sheet text-[12px] hover:bg-band"
            title="Each frame is one period, cut at even distances from start to end"
            onClick={() => sliceIntoTable(layerId, owner)}
          >
            Slice into a wavetable
          </button>
        )}
      </Section>
      <Section title="Loop">{fields(LOOP)}</Section>
      <Section title="Reading">{fields(READING)}</Section>
      <Section title="Variation per hit">{fields(HITS)}</Section>
      <PitchFields {...props} />
      <UnisonFields {...props} />
    </>
  );
}
