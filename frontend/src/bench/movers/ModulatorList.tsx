import { Plus, X } from "lucide-react";
import type { Declarations, Layer, Modulator } from "../../api";
import { edit, freshId, useBench, withLayer } from "../../sound";
import { PartFields, Section } from "../parts";

interface Props {
  layer: Layer;
  declarations: Declarations;
}

const MOST_MODULATORS = 8;

/** Other layers that act on this one: each in its way, by how much, and where it is taken. */
export function ModulatorList({ layer, declarations }: Props) {
  const layers = useBench((state) => state.document?.layers);
  const others =
    layers?.filter(({ id }) => id !== layer.id && !waitsFor(layers, id, layer.id)) ?? [];
  const { modulations } = declarations.sources[layer.source.kind];
  const add = (by: Layer) =>
    edit(`${layer.name}: modulated by ${by.name}`, (sound) => {
      const made: Modulator = {
        id: freshId(sound, "modulator"),
        by: by.id,
        on: true,
        way: (modulations[0] ?? "ring") as Modulator["way"],
        amount: 0.25,
        tap: "output",
        by_voice: false,
      };
      return withLayer(sound, layer.id, (now) => ({
        ...now,
        modulators: [...now.modulators, made],
      }));
    });
  return (
    <Section
      title="Modulated by other layers"
      aside={layer.modulators.length === 0 ? "none" : String(layer.modulators.length)}
    >
      <ul
        aria-label={`What modulates ${layer.name}`}
        className="grid grid-cols-[minmax(0,1fr)] gap-1.5"
      >
        {layer.modulators.map((one) => (
          <ModulatorRow
            key={one.id}
            layer={layer}
            modulator={one}
            others={others}
            declarations={declarations}
          />
        ))}
      </ul>
      {others.length > 0 && layer.modulators.length < MOST_MODULATORS && (
        <label className="mt-1 inline-flex min-h-6 items-center gap-1 text-[12px] text-action">
          <Plus size={12} aria-hidden />
          <select
            aria-label="Add a modulator"
            className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-ink"
            value=""
            onChange={({ target }) => {
              const by = others.find(({ id }) => id === target.value);
              if (by) add(by);
            }}
          >
            <option value="">modulate by…</option>
            {others.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {others.length === 0 && (
        <p className="text-[11.5px] text-ink-2">Needs a second layer, which may be muted.</p>
      )}
    </Section>
  );
}

interface RowProps extends Props {
  modulator: Modulator;
  others: Layer[];
}

function ModulatorRow({ layer, modulator, others, declarations }: RowProps) {
  const by = others.find(({ id }) => id === modulator.by);
  const name = by?.name ?? "another layer";
  const owner = `${layer.name} by ${name}`;
  const change = (label: string, patch: object, how?: { gesture: string; moving: boolean }) =>
    edit(
      label,
      (sound) =>
        withLayer(sound, layer.id, (now) => ({
          ...now,
          modulators: now.modulators.map((one) =>
            one.id === modulator.id ? { ...one, ...patch } : one,
          ),
        })),
      how,
    );
  const remove = () =>
    edit(`${owner}: removed`, (sound) =>
      withLayer(sound, layer.id, (now) => ({
        ...now,
        modulators: now.modulators.filter(({ id }) => id !== modulator.id),
      })),
    );
  return (
    <li className="rounded-control border border-line bg-sheet px-2 py-1">
      <div className="mb-1 flex items-center gap-1">
        <select
          aria-label={`Layer of modulator ${name}`}
          className="h-6 min-w-0 flex-1 rounded-sm border border-line-strong bg-sheet px-1 text-[12px] font-semibold"
          value={modulator.by}
          onChange={({ target }) => change(`${owner}: another layer`, { by: target.value })}
        >
          {others.map(({ id, name: called }) => (
            <option key={id} value={id}>
              {called}
            </option>
          ))}
        </select>
        <button
          type="button"
          aria-label={`Remove the modulator ${name}`}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={remove}
        >
          <X size={12} aria-hidden />
        </button>
      </div>
      <PartFields
        owner={owner}
        partId={modulator.id}
        declaration={withOffered(declarations, layer)}
        part={modulator}
        except={voicesAlike(layer, by) && modulator.tap !== "output" ? [] : ["by_voice"]}
        onChange={change}
      />
    </li>
  );
}

/** The types of modulation that do something to a layer's source. */
function withOffered(declarations: Declarations, { source }: Layer) {
  const { modulations } = declarations.sources[source.kind];
  const choices = declarations.modulator.choices.map((choice) =>
    choice.name === "way"
      ? {
          ...choice,
          values: choice.values?.filter((one) => modulations.includes(String(one))) ?? [],
        }
      : choice,
  );
  return { ...declarations.modulator, choices };
}

const voicesOf = (layer: Layer | undefined) =>
  layer && "unison" in layer.source ? layer.source.unison.voices : 0;

const voicesAlike = (layer: Layer, by: Layer | undefined) =>
  voicesOf(layer) > 1 && voicesOf(layer) === voicesOf(by);

/** Whether a layer is itself modulated, near or far, by another: the two would go round. */
function waitsFor(layers: Layer[], id: string, wanted: string): boolean {
  const seen = new Set<string>();
  const waiting = [id];
  for (let now = waiting.pop(); now !== undefined; now = waiting.pop()) {
    if (now === wanted) return true;
    if (!seen.has(now))
      waiting.push(...(layers.find((one) => one.id === now)?.modulators.map(({ by }) => by) ?? []));
    seen.add(now);
  }
  return false;
}
