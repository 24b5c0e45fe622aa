import { Plus, X } from "lucide-react";
import type { Declarations, FurtherNote, Sound } from "../../api";
import { Button, ValueField, noteName, formatValue } from "../../ui";
import { PartFields, Section } from "../parts";
import { beatsOf, edit, select, timePatch } from "../../sound";
import { CHORDS, chordName, MOST_FURTHER, withChord, withFurther } from "./chords";

interface Props {
  sound: Sound;
  declarations: Declarations;
}

/** What a hit plays beside its own note, and how several notes go together. */
export function NotesFields({ sound, declarations }: Props) {
  const { playing, pattern } = sound;
  const idle = (name: string) => {
    if (pattern.order === "off") return name === "order" ? null : "Only with a pattern";
    if (name === "beats" && !pattern.sync) return "Only with Tempo sync";
    if (name === "every_s" && pattern.sync) return "Only without Tempo sync";
    return name === "octaves" && pattern.order === "repeat" ? "Not where notes repeat" : null;
  };
  return (
    <>
      <h2 className="font-title text-[16px] font-semibold">Notes of a hit</h2>
      <p className="mt-1 text-ink-2">
        They are part of the hit: a take plays them all until the hold ends.
      </p>
      <Section title="Chord and sequence" aside={chordName(sound) ?? "custom notes"}>
        <ChordMenu sound={sound} />
        <NoteRows sound={sound} declarations={declarations} />
      </Section>
      <Section title="Several notes">
        <PartFields
          owner="Notes"
          declaration={declarations.playing}
          part={playing}
          idle={(name) =>
            name === "glide_s" && playing.way === "poly" ? "Only in mono and legato" : null
          }
          onChange={(label, patch, how) =>
            edit(label, (now) => ({ ...now, playing: { ...now.playing, ...patch } }), how)
          }
        />
        <button
          type="button"
          className="mt-1 min-h-6 text-left text-[12px] text-action hover:underline"
          onClick={() => select({ kind: "pitch" })}
        >
          One pitch curve over all notes…
        </button>
      </Section>
      <Section title="Pattern" aside={pattern.order === "off" ? "none" : ""}>
        <PartFields
          owner="Pattern"
          declaration={declarations.pattern}
          part={pattern}
          idle={idle}
          onChange={(label, patch, how) =>
            edit(label, (now) => ({ ...now, pattern: { ...now.pattern, ...patch } }), how)
          }
        />
      </Section>
    </>
  );
}

function ChordMenu({ sound }: { sound: Sound }) {
  const name = chordName(sound);
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Chord
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={name ?? ""}
        onChange={({ target }) => {
          const chord = CHORDS.find((one) => one.name === target.value);
          if (chord) edit(`Hit: ${chord.name}`, (now) => withChord(now, chord.steps));
        }}
      >
        {name === null && <option value="">custom notes</option>}
        {CHORDS.map((one) => (
          <option key={one.name}>{one.name}</option>
        ))}
      </select>
    </label>
  );
}

function NoteRows({ sound, declarations }: Props) {
  const { further } = sound.hit;
  const change = (index: number, patch: Partial<FurtherNote>, words: string) =>
    edit(`Note ${index + 2}: ${words}`, (now) =>
      withFurther(
        now,
        now.hit.further.map((one, n) => (n === index ? { ...one, ...patch } : one)),
      ),
    );
  const add = () =>
    edit("Note added", (now) =>
      withFurther(now, [...now.hit.further, { note: now.hit.note, at_s: now.hit.hold_s / 2 }]),
    );
  const remove = (index: number) =>
    edit(`Note ${index + 2} removed`, (now) =>
      withFurther(
        now,
        now.hit.further.filter((_, n) => n !== index),
      ),
    );
  return (
    <>
      <ul aria-label="More notes">
        <li className="flex h-6 items-center text-ink-2">
          1 <span className="figure ml-auto">{noteName(sound.hit.note)} from the start</span>
          <span className="w-6" />
        </li>
        {further.map((one, index) => (
          <li key={index} className="flex h-6 items-center gap-1">
            <span className="flex-1 text-ink-2">{index + 2}</span>
            {declarations.further_note.parameters.map((parameter) => {
              const name = parameter.name as "note" | "at_s";
              const set = (value: number, beats?: number) => {
                const kept = Math.min(parameter.maximum, Math.max(parameter.minimum, value));
                change(
                  index,
                  name === "at_s" ? timePatch(one, name, kept, beats) : { [name]: kept },
                  `${parameter.label} ${formatValue(value, parameter.unit)}`,
                );
              };
              return (
                <ValueField
                  key={name}
                  id={`further-${index}-${name}`}
                  label={`${parameter.label} of note ${index + 2}`}
                  className={name === "note" ? "w-[64px]" : "w-[78px]"}
                  parameter={parameter}
                  value={one[name]}
                  beats={beatsOf(one, name)}
                  context={{ tempoBpm: sound.tempo_bpm }}
                  onNudge={(direction) => set(one[name] + direction * parameter.step)}
                  onValue={set}
                />
              );
            })}
            <button
              type="button"
              aria-label={`Remove note ${index + 2}`}
              className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
              onClick={() => remove(index)}
            >
              <X size={12} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <Button className="mt-1" disabled={further.length >= MOST_FURTHER} onClick={add}>
        <Plus size={13} aria-hidden /> Note
      </Button>
    </>
  );
}
