import { useState } from "react";
import type { StruckSource } from "../../api/types";
import { PartFields } from "../PartFields";
import { Section } from "../Section";
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
  const disabled = (name: string) =>
    (name === "aspect" && source.body !== "plate") ||
    (loop && ["modes", "inharmonicity", "spread"].includes(name)) ||
    (name === "exciter_s" && source.exciter === "impulse") ||
    (name === "new_each_hit" && source.exciter !== "noise");
  const fields = (only: string[]) => (
    <PartFields
      owner={owner}
      declaration={declaration}
      part={source}
      only={only}
      partId={layerId}
      path="source."
      onChange={onChange}
      disabled={disabled}
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
        {!loop && (
          <ModeBars owner={owner} source={source} modes={look?.modes ?? []} onChange={onChange} />
        )}
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
  const written = source.set_st.join(", ");
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState(false);
  const finish = () => {
    if (typed === null) return;
    const steps = typed
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map((one) => Number(one.replace("−", "-")));
    const fine =
      steps.length > 0 && steps.length <= 32 && steps.every((st) => st >= -48 && st <= 96);
    setProblem(!fine);
    if (!fine) return;
    setTyped(null);
    if (steps.join(", ") !== written)
      onChange(
        `${owner}: set of ${steps.length} intervals`,
        { set_st: steps },
        { gesture: "set_st", moving: false },
      );
  };
  return (
    <label className="mb-1 grid gap-0.5">
      Tuned set, semitones
      <input
        className="figure h-7 rounded-control border border-line-strong bg-sheet px-2 text-[12px]"
        value={typed ?? written}
        aria-invalid={problem}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") finish();
          if (event.key === "Escape") {
            setTyped(null);
            setProblem(false);
          }
        }}
      />
      {problem && (
        <span role="alert" className="text-[12px] text-bad">
          One to 32 numbers from −48 to 96, with commas between
        </span>
      )}
    </label>
  );
}
