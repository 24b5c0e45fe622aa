import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
  resultOf,
  api,
  type Declarations,
  type Processor,
  type RecordingItem,
  type Sound,
} from "../../../api";
import { ACCEPTED, sendFile } from "../../../imports";
import { StepsField, formatValue } from "../../../ui";
import { withProcessor, edit, useBench } from "../../../sound";
import { PartFields, Section } from "../../parts";

type Of<Kind extends Processor["kind"]> = Extract<Processor, { kind: Kind }>;

const patch = (part: Processor, changes: object, words: string) =>
  edit(words, (sound) =>
    withProcessor(sound, part.id, (now) => ({ ...now, ...changes }) as Processor),
  );

/** Which layer a compressor or a gate listens to instead of its own input. */
export function SideField({ part }: { part: Of<"compressor"> | Of<"gate"> }) {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const own = ownerOf(sound, part.id);
  const offered = sound.layers.filter(({ id }) => id !== own);
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Sidechain source
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={part.side ?? ""}
        onChange={({ target }) => {
          const side = target.value === "" ? null : target.value;
          const name = sound.layers.find(({ id }) => id === side)?.name ?? "its own input";
          patch(part, { side }, `Sidechain source ${name}`);
        }}
      >
        <option value="">its own input</option>
        {offered.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

const ownerOf = (sound: Sound, id: string) =>
  sound.layers.find(({ chain }) => chain.some((one) => one.id === id))?.id;

const BANDS = [
  ["high", "High band"],
  ["middle", "Middle band"],
  ["low", "Low band"],
] as const;

/** The three bands of multiband dynamics, each with its own thresholds. */
export function MultibandFields({
  part,
  declarations,
}: {
  part: Of<"multiband">;
  declarations: Declarations;
}) {
  return (
    <>
      {BANDS.map(([name, title]) => (
        <Section key={name} title={title}>
          <PartFields
            owner={`Multiband ${name}`}
            partId={part.id}
            path={`${name}.`}
            declaration={declarations.processors.multiband.parts?.[name] ?? NO_FIELDS}
            part={part[name]}
            onChange={(label, changes, how) =>
              edit(
                label,
                (sound) =>
                  withProcessor(sound, part.id, (now) =>
                    now.kind === "multiband"
                      ? { ...now, [name]: { ...now[name], ...changes } }
                      : now,
                  ),
                how,
              )
            }
          />
        </Section>
      ))}
    </>
  );
}

const NO_FIELDS = { help: "", parameters: [], choices: [] };

/** The steps of an own tuning, typed: "0, 7, 12". */
export function TuningField({ part }: { part: Of<"resonators"> }) {
  if (part.tuning !== "own") return null;
  return (
    <StepsField
      label="Custom tuning, semitones"
      steps={part.own_st}
      most={8}
      low={-48}
      high={48}
      onSteps={(own_st) =>
        patch(part, { own_st }, `Resonators: custom tuning ${own_st.join(", ")} st`)
      }
    />
  );
}

const LENGTHS = [
  ["thirty-second", 0.125],
  ["sixteenth", 0.25],
  ["eighth", 0.5],
  ["quarter", 1],
  ["half", 2],
] as const;
const FORMS = [
  ["", 1],
  [" dotted", 1.5],
  [" triplet", 2 / 3],
] as const;
const NOTES = LENGTHS.flatMap(([name, beats]) =>
  FORMS.map(([form, factor]) => ({ name: name + form, beats: beats * factor })),
);

/** The length of an echo as a note, dotted and triplet too. */
export function NoteLengthField({ part }: { part: Of<"delay"> | Of<"pitch_delay"> }) {
  if (!part.sync) return null;
  const known = NOTES.find(({ beats }) => Math.abs(beats - part.beats) < 1e-3);
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Note value
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={known?.name ?? ""}
        onChange={({ target }) => {
          const note = NOTES.find(({ name }) => name === target.value);
          if (note) patch(part, { beats: note.beats }, `Echo: ${note.name}`);
        }}
      >
        {!known && <option value="">{formatValue(part.beats, "beat")}</option>}
        {NOTES.map(({ name }) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

const bringIn = (file: File) => sendFile<RecordingItem>("/api/recordings", file, () => undefined);

/** Which recording an imported impulse is, and a way to bring one in. */
export function RecordingField({ part }: { part: Of<"convolution"> }) {
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const listed = useQuery({
    queryKey: ["recordings"],
    enabled: part.impulse === "imported",
    queryFn: async () => (await resultOf(api.GET("/api/recordings"))).recordings,
  });
  if (part.impulse !== "imported") return null;
  const recordings = listed.data ?? [];
  const known = recordings.find(({ digest }) => digest === part.recording);
  const take = (one: RecordingItem) =>
    patch(part, { recording: one.digest }, `Convolution: impulse ${one.name}`);
  const choose = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    try {
      const one = await bringIn(file);
      await queries.invalidateQueries({ queryKey: ["recordings"] });
      take(one);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : "The file could not be imported");
    }
  };
  return (
    <div className="mb-1 grid gap-1">
      <label className="flex min-h-6 items-center justify-between gap-2">
        Recording
        <select
          className="h-6 min-w-0 flex-1 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
          value={part.recording ?? ""}
          onChange={({ target }) => {
            const one = recordings.find(({ digest }) => digest === target.value);
            if (one) take(one);
          }}
        >
          {!known && (
            <option value={part.recording ?? ""}>
              {part.recording ? "not one of yours" : "none"}
            </option>
          )}
          {recordings.map((one) => (
            <option key={one.digest} value={one.digest}>
              {one.name} ({formatValue(one.length_s, "s")}, {one.channels === 1 ? "mono" : "stereo"}
              )
            </option>
          ))}
        </select>
      </label>
      <label className="inline-flex min-h-7 cursor-pointer items-center justify-center rounded-control border border-line-strong bg-sheet px-2 text-action hover:bg-band">
        Import an audio file…
        <input
          type="file"
          accept={ACCEPTED}
          className="sr-only"
          aria-label="Import an impulse"
          onChange={({ target }) => {
            void choose(target.files?.[0]);
            target.value = "";
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="text-[12px] text-bad">
          {problem}
        </p>
      )}
    </div>
  );
}
