import { X } from "lucide-react";
import type { Declarations, Mover } from "../../api";
import { NameField, PartFields, Section } from "../parts";
import { drawnBy, edit, select, useBench, MOVER_NAMES, withMover, withoutMover } from "../../sound";
import { CurveSection } from "../curves";
import { CycleEditor } from "./CycleEditor";
import { MoverLinks } from "./MoverLinks";
import { MoverPicture } from "./MoverPicture";
import { StepBars } from "./StepBars";

interface Props {
  mover: Mover;
  declarations: Declarations;
}

/** A mover: what it is, how it goes over the hit, and everything that it moves. */
export function MoverFields({ mover, declarations }: Props) {
  const change = (label: string, patch: object, how?: { gesture: string; moving: boolean }) =>
    edit(
      label,
      (sound) => withMover(sound, mover.id, (now) => ({ ...now, ...patch }) as Mover),
      how,
    );
  const shown = mover.kind === "curve" || (mover.kind === "lfo" && mover.shape === "drawn");
  const drawn = shown ? drawnBy(mover) : undefined;
  const idle = (name: string) => {
    if ("sync" in mover && name === "rate_hz" && mover.sync) return "Only without Tempo sync";
    if ("sync" in mover && name === "beats" && !mover.sync) return "Only with Tempo sync";
    const pulses = mover.kind === "follower" && mover.layer !== null;
    return pulses && ["beats", "pulse_s"].includes(name) ? "Only of a pulse pattern" : null;
  };
  const remove = () => {
    edit(`Mover removed: ${mover.name}`, (sound) => withoutMover(sound, mover.id));
    select({ kind: "main" });
  };
  return (
    <>
      <h2 className="flex items-center gap-2">
        <NameField
          label="Name of the mover"
          name={mover.name}
          onRename={(name) => change(`${mover.name}: named ${name}`, { name })}
        />
        <span className="text-ink-2">{MOVER_NAMES[mover.kind]}</span>
        <button
          type="button"
          aria-label={`Remove ${mover.name}`}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={remove}
        >
          <X size={13} aria-hidden />
        </button>
      </h2>
      <MoverPicture mover={mover} />
      <MoverLinks mover={mover} declarations={declarations} />
      <Section title="Settings">
        {mover.kind === "follower" && <Followed mover={mover} />}
        {mover.kind === "follower" && mover.layer === null && (
          <StepBars
            values={mover.pulses}
            lowest={0}
            onChange={(pulses, how) => change(`${mover.name}: pulses drawn`, { pulses }, how)}
          />
        )}
        {mover.kind === "steps" && (
          <StepBars
            values={mover.values}
            onChange={(values, how) => change(`${mover.name}: steps drawn`, { values }, how)}
          />
        )}
        <PartFields
          owner={mover.name}
          partId={mover.id}
          declaration={declarations.movers[mover.kind]}
          part={mover}
          except={["name"]}
          idle={idle}
          onChange={change}
        />
      </Section>
      {drawn && (
        <Section
          title={mover.kind === "lfo" ? "One cycle" : "Curve"}
          aside={mover.kind === "lfo" ? "" : drawn.release.length > 0 ? "held" : "one-shot"}
        >
          {mover.kind === "lfo" && <CycleEditor mover={mover} />}
          <CurveSection
            curveRef={{ name: "mover", moverId: mover.id }}
            curve={drawn}
            declarations={declarations}
            cycle={mover.kind === "lfo"}
          />
        </Section>
      )}
    </>
  );
}

function Followed({ mover }: { mover: Extract<Mover, { kind: "follower" }> }) {
  const layers = useBench((state) => state.document?.layers);
  return (
    <label className="mb-1 flex min-h-6 items-center justify-between">
      Follows
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={mover.layer ?? ""}
        onChange={({ target }) =>
          edit(`${mover.name}: follows ${target.value ? "a layer" : "pulses"}`, (sound) =>
            withMover(sound, mover.id, (now) => ({ ...now, layer: target.value || null }) as Mover),
          )
        }
      >
        <option value="">a pulse pattern</option>
        {layers?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
