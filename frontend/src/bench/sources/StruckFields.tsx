import type { StruckSource } from "../../api";
import { StepsField } from "../../ui";
import { PartFields, Section } from "../parts";
import { ModeBars } from "./ModeBars";
import { PitchFields } from "./PitchFields";
import type { SourceProps } from "./sourceProps";
import { useSourceLook } from "./useSourceLook";

const BODY = ["body", "size", "modes", "aspect", "decay_s", "damping", "inharmonicity", "spread"];
const EXCITER = ["exciter", "exciter_s", "hardness", "position", "knock", "new_each_hit"];

/** A struck body: what rings, shown mode by mode, and what strikes it. */
export function StruckFields(props: SourceProps<StruckSource>) {
  const { owner, layerId, source, declarations, onChange } = props;
  const { look } = useSourceLook(layerId);
  const declaration = declarations.sources.struck;
  const loop = source.body === "string_loop";
  const idle = (name: string) => {
    if (name === "aspect" && source.body !== "plate") return "Only of a plate";
    if (loop && ["modes", "inharmonicity", "spread"].includes(name)) return "Not of a string loop";
    if (name === "exciter_s" && source.exciter === "impulse") return "Not of an impulse";
    return name === "new_each_hit" && source.exciter !== "noise" ? "Only of noise" : null;
  };
  const fields = (only: string[]) => (
    <PartFields
      owner={owner}
      declaration={declaration}
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
      <Section
        title="Body"
        aside={
          loop
            ? look?.loop_gain != null
              ? `loop gain ${look.loop_gain.toFixed(4)}`
              : ""
            : `${look?.modes.filter(({ heard }) => heard).length ?? 0} modes ring`
        }
      >
        {!loop && <ModeBars {...props} modes={look?.modes ?? []} />}
        {source.body === "set" && <SetField owner={owner} source={source} onChange={onChange} />}
        {fields(BODY)}
      </Section>
      <Section title="Exciter">{fields(EXCITER)}</Section>
      <PitchFields {...props} />
    </>
  );
}

/** The intervals of a tuned set, typed: "0, 12, 19". */
function SetField({
  owner,
  source,
  onChange,
}: Pick<SourceProps<StruckSource>, "owner" | "source" | "onChange">) {
  return (
    <StepsField
      label="Tuned set, semitones"
      steps={source.set_st}
      most={32}
      low={-48}
      high={96}
      onSteps={(set_st) =>
        onChange(
          `${owner}: set of ${set_st.length} intervals`,
          { set_st },
          { gesture: "set_st", moving: false },
        )
      }
    />
  );
}
