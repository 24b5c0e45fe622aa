import { useState } from "react";
import { Link } from "react-router";
import { TRYOUT_DEFAULTS, TRYOUT_KINDS, type Duck, type Plays, type TryOutPart } from "../api";
import { editTryOut, useTryOut, type RoundNow } from "../loop";
import { RevisionSelect } from "../sound";
import { ActionMenu, Button, noteName, TextField } from "../ui";
import { mayDuck, withDuck, withoutDuck, withPart } from "./edits";
import { Fields } from "./Fields";
import { PickerDialog } from "./PickerDialog";

const CHOICES = {
  choice: {
    in_turn: "In turn",
    random: "Random",
    no_repeat: "Random, without the last ones",
    velocity: "By velocity",
  },
};

/** A part: what it plays and how it goes into the mix. */
export function PartLeaf({ part, round }: { part: TryOutPart | undefined; round: RoundNow }) {
  if (!part) return <p className="text-ink-2">Choose a part in the lanes.</p>;
  const patch = (label: string, changed: Partial<TryOutPart>, moving: boolean) =>
    editTryOut(
      `${part.name}: ${label}`,
      (now) => withPart(now, part.id, (one) => ({ ...one, ...changed })),
      { gesture: `${part.id} ${Object.keys(changed)[0] ?? ""}`, moving },
    );
  const bed = part.plays.kind === "bed";
  return (
    <section aria-label={`Part ${part.name}`} className="grid gap-3">
      <TextField
        label="Name"
        value={part.name}
        maxLength={120}
        onChange={(event) => patch("name", { name: event.target.value }, true)}
        onBlur={() => patch("name", { name: part.name }, false)}
      />
      <PlaysFields part={part} round={round} />
      <div>
        <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Level and tone</h3>
        <Fields
          declared={TRYOUT_KINDS.part}
          part={part}
          names={[
            "level_db",
            "pan",
            "low_cut_hz",
            "high_cut_hz",
            "fade_in_s",
            "fade_out_s",
            "invert",
          ]}
          onChange={patch}
        />
      </div>
      {!bed && (
        <div>
          <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Every hit</h3>
          <Fields
            declared={TRYOUT_KINDS.part}
            part={part}
            names={["offset_s", "attack_s", "choke"]}
            onChange={patch}
          />
          <KeyField part={part} />
        </div>
      )}
      <Ducking part={part} />
    </section>
  );
}

function KeyField({ part }: { part: TryOutPart }) {
  const set = (key: number | null) =>
    editTryOut(`${part.name}: key`, (now) => withPart(now, part.id, (one) => ({ ...one, key })));
  return (
    <label className="flex min-h-6 items-center gap-2">
      <span className="w-[92px]">Key in a kit</span>
      <select
        className="figure ml-auto h-6 rounded-sm border border-line-strong bg-sheet"
        value={part.key ?? ""}
        onChange={(event) => set(event.target.value === "" ? null : Number(event.target.value))}
      >
        <option value="">next free</option>
        {Array.from({ length: 128 }, (_, note) => (
          <option key={note} value={note}>
            {noteName(note)}
          </option>
        ))}
      </select>
    </label>
  );
}

function PlaysFields({ part, round }: { part: TryOutPart; round: RoundNow }) {
  const [picking, setPicking] = useState(false);
  const { plays } = part;
  const source = round.plan?.sources.find((one) => one.part === part.id);
  const set = (label: string, changed: Partial<Plays>, moving = false) =>
    editTryOut(
      `${part.name}: ${label}`,
      (now) =>
        withPart(now, part.id, (one) => ({ ...one, plays: { ...one.plays, ...changed } as Plays })),
      { gesture: `${part.id} plays`, moving },
    );
  return (
    <div>
      <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Plays</h3>
      <p className="truncate" title={source?.name}>
        {source?.name} <span className="text-[12px] text-ink-2">{source?.about}</span>
      </p>
      {source && source.missing !== "" && (
        <p className="text-[12.5px] text-warn">{source.missing}</p>
      )}
      <div className="my-1.5 flex flex-wrap gap-1.5">
        <Button className="min-h-7 px-2" onClick={() => setPicking(true)}>
          Choose another…
        </Button>
        {plays.kind === "sound" && (
          <Link
            to={`/bench/${plays.sound}`}
            className="inline-flex min-h-7 items-center rounded-control border border-line-strong bg-sheet px-2 text-[13px] font-medium hover:bg-band"
          >
            Open on the Bench
          </Link>
        )}
      </div>
      {plays.kind === "sound" && <RevisionField part={part} />}
      {plays.kind === "group" && (
        <Fields
          declared={TRYOUT_KINDS.group}
          part={plays}
          names={["choice", "avoid", "seed"]}
          words={CHOICES}
          idle={{ avoid: plays.choice === "no_repeat" ? null : "Only without repeats" }}
          onChange={set}
        />
      )}
      {plays.kind === "bed" && (
        <Fields
          declared={TRYOUT_KINDS.bed}
          part={plays}
          names={["tempo_bpm", "first_beat_s", "follow", "loop"]}
          onChange={set}
        />
      )}
      <PickerDialog
        kind={picking ? plays.kind : null}
        onClose={() => setPicking(false)}
        onPick={(name, chosen) => {
          editTryOut(`${part.name}: plays ${name}`, (now) =>
            withPart(now, part.id, (one) => ({ ...one, name: name.slice(0, 120), plays: chosen })),
          );
          setPicking(false);
        }}
      />
    </div>
  );
}

function RevisionField({ part }: { part: TryOutPart }) {
  const { plays } = part;
  if (plays.kind !== "sound") return null;
  const set = (revision: number | null) =>
    editTryOut(`${part.name}: ${revision === null ? "draft" : `revision ${revision}`}`, (now) =>
      withPart(now, part.id, (one) => ({ ...one, plays: { ...plays, revision } })),
    );
  return (
    <RevisionSelect
      sound={plays.sound}
      revision={plays.revision}
      draft="Draft as it is now"
      onChange={set}
    />
  );
}

function Ducking({ part }: { part: TryOutPart }) {
  const document = useTryOut((state) => state.document);
  if (!document) return null;
  const own = document.ducks.filter((duck) => duck.part === part.id);
  const nameOf = (id: string) => document.parts.find((one) => one.id === id)?.name ?? id;
  const free = mayDuck(document, part.id);
  const change = (duck: Duck, label: string, patch: Partial<Duck>, moving: boolean) =>
    editTryOut(
      `${part.name} ducked by ${nameOf(duck.by)}: ${label}`,
      (now) => withDuck(now, { ...duck, ...patch }),
      { gesture: `duck ${part.id} ${duck.by} ${Object.keys(patch)[0] ?? ""}`, moving },
    );
  return (
    <div>
      <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Ducking</h3>
      {own.map((duck) => (
        <div key={duck.by} className="mb-2 rounded-control border border-line p-2">
          <p className="mb-1 flex items-center justify-between">
            Pulled down by {nameOf(duck.by)}
            <button
              type="button"
              className="min-h-6 rounded-sm px-1.5 text-[12px] text-ink-2 hover:bg-band"
              onClick={() =>
                editTryOut(`${part.name} no longer ducked by ${nameOf(duck.by)}`, (now) =>
                  withoutDuck(now, duck.part, duck.by),
                )
              }
            >
              Remove
            </button>
          </p>
          <Fields
            declared={TRYOUT_KINDS.duck}
            part={duck}
            names={["amount_db", "attack_s", "hold_s", "release_s"]}
            onChange={(label, patch, moving) => change(duck, label, patch, moving)}
          />
        </div>
      ))}
      {free.length > 0 && (
        <ActionMenu
          className="min-h-7 rounded-control border border-line-strong bg-sheet px-2 text-[12.5px] hover:bg-band"
          anchor="bottom start"
          actions={free.map((by) => ({
            label: by.name,
            act: () =>
              editTryOut(`${part.name} ducked by ${by.name}`, (now) =>
                withDuck(now, { ...TRYOUT_DEFAULTS.duck, part: part.id, by: by.id }),
              ),
          }))}
        >
          Duck under…
        </ActionMenu>
      )}
    </div>
  );
}
