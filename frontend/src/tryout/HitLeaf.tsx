import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, resultOf, TRYOUT_KINDS, type PlacedHit, type Sound, type TryOutPart } from "../api";
import { editTryOut, useTryOut, type Heard, type RoundNow } from "../loop";
import { Button, FieldRow, noteName, parseValue, TextField } from "../ui";
import { withHits } from "./edits";
import { Fields } from "./Fields";
import { HitTable } from "./HitTable";
import { removeHits } from "./useKeys";

const MOST_NOTES = 16;
const NONE: number[] = [];

interface Props {
  part: TryOutPart | undefined;
  heard: Heard;
  round: RoundNow;
}

/** The hits that are chosen, in numbers; or a table of all hits of the part. */
export function HitLeaf({ part, round }: Props) {
  const hits = useTryOut((state) => (state.chosen.kind === "hits" ? state.chosen.hits : NONE));
  if (!part) return <p className="text-ink-2">Choose a part in the lanes.</p>;
  if (part.plays.kind === "bed")
    return <p className="text-ink-2">A bed plays from the start of the round; it has no hits.</p>;
  const first = part.hits[hits[0] ?? -1];
  const change = (label: string, patch: Partial<PlacedHit>, moving: boolean) =>
    editTryOut(
      `${part.name}: ${label}`,
      (now) => withHits(now, part.id, hits, (hit) => ({ ...hit, ...patch })),
      { gesture: `hits ${part.id} ${Object.keys(patch)[0] ?? ""}`, moving },
    );
  return (
    <section aria-label={`Hits of ${part.name}`} className="grid gap-3">
      {first ? (
        <>
          <p className="text-[12.5px] text-ink-2">
            {hits.length === 1
              ? `Hit ${(hits[0] ?? 0) + 1} of ${part.hits.length}`
              : `${hits.length} hits; a change is made to all`}
          </p>
          <Fields
            declared={TRYOUT_KINDS.hit}
            part={first}
            names={hits.length === 1 ? ["at_s", "velocity", "chance"] : ["velocity", "chance"]}
            onChange={change}
          />
          {part.plays.kind === "sound" && (
            <SoundHit part={part} hit={first} round={round} onChange={change} />
          )}
          <Button onClick={removeHits}>Remove {hits.length === 1 ? "hit" : "hits"}</Button>
        </>
      ) : (
        <p className="text-[12.5px] text-ink-2">
          Choose hits in the lane, or one of these. Double click in the lane adds one.
        </p>
      )}
      <HitTable part={part} hits={hits} />
    </section>
  );
}

interface SoundHitProps {
  part: TryOutPart;
  hit: PlacedHit;
  round: RoundNow;
  onChange: (label: string, patch: Partial<PlacedHit>, moving: boolean) => void;
}

/** What only a sound's hit has: notes, hold, macros. */
function SoundHit({ part, hit, round, onChange }: SoundHitProps) {
  const own = round.plan?.sources.find((one) => one.part === part.id)?.own_note;
  return (
    <div className="grid gap-1">
      <NotesField hit={hit} own={own ?? null} onChange={onChange} />
      <HoldField hit={hit} onChange={onChange} />
      <Macros part={part} hit={hit} onChange={onChange} />
    </div>
  );
}

function NotesField({
  hit,
  own,
  onChange,
}: Pick<SoundHitProps, "hit" | "onChange"> & { own: number | null }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const shown = hit.notes.map((note) => noteName(note)).join(" ");
  const finish = () => {
    if (typed === null) return;
    const words = typed.split(/[\s,]+/).filter(Boolean);
    const read = words.map((word) => parseValue(word, "note", { tempoBpm: 120 }));
    const wrong = read.findIndex((one) => !one.ok || one.value < 0 || one.value > 127);
    if (wrong >= 0) return setProblem(`“${words[wrong]}” is no note: type E1, A#3 or 40`);
    if (read.length > MOST_NOTES) return setProblem(`A chord has at most ${MOST_NOTES} notes`);
    const notes = read.flatMap((one) => (one.ok ? [Math.round(one.value)] : []));
    setTyped(null);
    if (notes.join() !== hit.notes.join()) onChange("notes", { notes }, false);
  };
  return (
    <TextField
      label="Note or chord"
      figure
      placeholder={own === null ? "the sound's own" : `the sound's own, ${noteName(own)}`}
      value={typed ?? shown}
      problem={problem}
      onChange={(event) => {
        setTyped(event.target.value);
        setProblem(null);
      }}
      onBlur={finish}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}

const HOLD = {
  name: "hold_s",
  label: "Hold",
  unit: "s",
  minimum: 0,
  maximum: 60,
  default: 0.2,
  scale: "time",
  step: 0.01,
  whole: false,
  help: "How long the hit is held",
} as const;

function HoldField({ hit, onChange }: Pick<SoundHitProps, "hit" | "onChange">) {
  const tempoBpm = useTryOut((state) => state.document?.tempo_bpm ?? 120);
  const own = hit.hold_s === null;
  return (
    <div>
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={own}
          onChange={(event) =>
            onChange("hold", { hold_s: event.target.checked ? null : HOLD.default }, false)
          }
        />
        Hold as the sound has it
      </label>
      {!own && (
        <FieldRow
          parameter={HOLD}
          value={hit.hold_s ?? 0}
          context={{ tempoBpm }}
          onChange={({ value, moving }) => onChange("hold", { hold_s: value }, moving)}
        />
      )}
    </div>
  );
}

const SHARE = {
  unit: "percent",
  minimum: 0,
  maximum: 1,
  default: 0,
  scale: "linear",
  step: 0.01,
  whole: false,
  help: "Where the macro stands in this hit",
} as const;

function Macros({ part, hit, onChange }: Pick<SoundHitProps, "part" | "hit" | "onChange">) {
  const id = part.plays.kind === "sound" ? part.plays.sound : 0;
  const sound = useQuery({
    queryKey: ["sounds", "one", id],
    queryFn: () =>
      resultOf(api.GET("/api/sounds/{sound_id}", { params: { path: { sound_id: id } } })),
  });
  const document = sound.data?.document as unknown as Sound | undefined;
  const macros = document?.movers.filter((mover) => mover.kind === "macro") ?? [];
  return (
    <>
      {macros.map((macro) => {
        const set = hit.macros?.[macro.id];
        return (
          <FieldRow
            key={macro.id}
            parameter={{ ...SHARE, name: macro.id, label: macro.name, default: macro.value }}
            value={set ?? macro.value}
            context={{ tempoBpm: 120 }}
            aside={set === undefined ? "own" : ""}
            onChange={({ value, moving }) =>
              onChange(macro.name, { macros: { ...hit.macros, [macro.id]: value } }, moving)
            }
          />
        );
      })}
    </>
  );
}
