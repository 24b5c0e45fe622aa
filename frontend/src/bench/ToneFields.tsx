import type { Declarations, ToneSource } from "../api/types";
import { LinkRing } from "./movers/LinkRing";
import { PartFields } from "./PartFields";
import { PartialEditor } from "./PartialEditor";
import { Section } from "./Section";
import { ShapeButtons } from "./ShapeButtons";

interface Props {
  owner: string;
  layerId: string;
  source: ToneSource;
  declarations: Declarations;
  onChange: (label: string, patch: object, how: { gesture: string; moving: boolean }) => void;
  followsPitch: boolean;
  onFollow: (follows: boolean) => void;
}

const CYCLE = ["shape", "width", "skew", "phase_deg", "phase_random", "feedback"];
const PITCH = [
  "follows_note",
  "fixed_hz",
  "ratio",
  "octave",
  "transpose_st",
  "fine_cent",
  "vibrato_st",
  "vibrato_hz",
];

/** A tone: its cycle (a shape or drawn partials), its pitch, and its voices. */
export function ToneFields(props: Props) {
  const { owner, layerId, source, declarations, onChange, followsPitch, onFollow } = props;
  const declaration = declarations.sources.tone;
  const drawn = source.cycle === "partials";
  const disabled = (name: string) =>
    (name === "fixed_hz" && source.follows_note) ||
    (name === "width" && source.shape <= 2) ||
    (name === "vibrato_hz" && source.vibrato_st === 0);
  const patchPart =
    (key: "unison" | "partials") =>
    (label: string, patch: object, how: { gesture: string; moving: boolean }) =>
      onChange(label, { [key]: { ...source[key], ...patch } }, how);
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
            onChange={patchPart("partials")}
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
          disabled={disabled}
        />
      </Section>
      <Section title="Pitch" aside={source.follows_note ? "follows note" : "every note the same"}>
        <PartFields
          owner={owner}
          declaration={declaration}
          part={source}
          only={PITCH}
          partId={layerId}
          path="source."
          onChange={onChange}
          disabled={disabled}
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
            checked={followsPitch}
            onChange={(event) => onFollow(event.target.checked)}
          />
        </label>
      </Section>
      <Section title="Unison" aside={source.unison.voices === 1 ? "one voice" : ""}>
        <PartFields
          owner={`${owner}, unison`}
          declaration={declarations.unison}
          part={source.unison}
          partId={layerId}
          path="source.unison."
          onChange={patchPart("unison")}
          disabled={(name) => name !== "voices" && source.unison.voices === 1}
        />
      </Section>
    </>
  );
}
