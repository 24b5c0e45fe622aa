import type { Declarations, Source } from "../../api";
import { withLayer, edit, useBench } from "../../sound";
import { LinkRing, PartFields, Section } from "../parts";
import type { SourceProps } from "./sourceProps";

const PITCH = [
  "follows_note",
  "root_note",
  "root_cent",
  "fixed_hz",
  "ratio",
  "octave",
  "transpose_st",
  "fine_cent",
  "vibrato_st",
  "vibrato_hz",
];

type Pitched = Exclude<Source, { kind: "noise" }>;

/** The pitch of any source that has one. */
export function PitchFields(props: SourceProps<Pitched>) {
  const { owner, layerId, source, declarations, onChange } = props;
  const follows = useBench(
    ({ document }) => document?.layers.find(({ id }) => id === layerId)?.follows_pitch ?? false,
  );
  const idle = (name: string) => {
    if (name === "fixed_hz" && source.follows_note) return "Only without Key tracking";
    return name === "vibrato_hz" && source.vibrato_st === 0 ? "Only where Vibrato is not 0" : null;
  };
  return (
    <Section title="Pitch" aside={source.follows_note ? "key tracking" : "fixed pitch"}>
      <PartFields
        owner={owner}
        declaration={declarations.sources[source.kind]}
        part={source}
        only={PITCH}
        partId={layerId}
        path="source."
        onChange={onChange}
        idle={idle}
      />
      <div className="mb-1 flex min-h-6 items-center justify-between">
        Moved pitch
        <LinkRing target={`${layerId}.pitch_st`} owner={owner} wide />
      </div>
      <label className="mb-1 flex min-h-6 items-center justify-between">
        Follows the common pitch
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={follows}
          onChange={({ target }) =>
            edit(`${owner}: ${target.checked ? "follows" : "leaves"} the common pitch`, (now) =>
              withLayer(now, layerId, (one) => ({ ...one, follows_pitch: target.checked })),
            )
          }
        />
      </label>
    </Section>
  );
}

type Voiced = Extract<Source, { unison: unknown }>;

/** The voices of a source that may have several. */
export function UnisonFields({
  owner,
  layerId,
  source,
  declarations,
  onChange,
}: Omit<SourceProps<Voiced>, "declarations"> & { declarations: Declarations }) {
  return (
    <Section title="Unison" aside={source.unison.voices === 1 ? "one voice" : ""}>
      <PartFields
        owner={`${owner}, unison`}
        declaration={declarations.unison}
        part={source.unison}
        partId={layerId}
        path="source.unison."
        onChange={(label, patch, how) =>
          onChange(label, { unison: { ...source.unison, ...patch } }, how)
        }
        idle={(name) =>
          name !== "voices" && source.unison.voices === 1 ? "Only with several voices" : null
        }
      />
    </Section>
  );
}
