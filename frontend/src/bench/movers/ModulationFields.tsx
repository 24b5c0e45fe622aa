import type { Declarations, Layer } from "../../api";
import { withLayer, edit, useBench } from "../../sound";
import { PartFields, Section } from "../parts";

interface Props {
  layer: Layer;
  declarations: Declarations;
}

/** Another layer that acts on this one, in which way and how much. */
export function ModulationFields({ layer, declarations }: Props) {
  const layers = useBench((state) => state.document?.layers);
  const { modulation } = layer;
  const others =
    layers?.filter(({ id }) => id !== layer.id && !waitsFor(layers, id, layer.id)) ?? [];
  const change = (label: string, patch: object, how?: { gesture: string; moving: boolean }) =>
    edit(
      label,
      (sound) =>
        withLayer(sound, layer.id, (now) => ({
          ...now,
          modulation: { ...now.modulation, ...patch },
        })),
      how,
    );
  const nameOf = (id: string | null) => layers?.find((one) => one.id === id)?.name ?? "no layer";
  return (
    <Section title="Modulated by another layer">
      <label className="mb-1 flex min-h-6 items-center justify-between">
        By
        <select
          aria-label="Modulated by"
          className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
          value={modulation.by ?? ""}
          onChange={({ target }) => {
            const by = target.value || null;
            change(`${layer.name}: modulated by ${nameOf(by)}`, { by });
          }}
        >
          <option value="">no layer</option>
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {modulation.by !== null && (
        <PartFields
          owner={layer.name}
          partId={layer.id}
          path="modulation."
          declaration={declarations.modulation}
          part={modulation}
          onChange={change}
        />
      )}
      {others.length === 0 && (
        <p className="text-[11.5px] text-ink-2">Needs a second layer, which may be muted.</p>
      )}
    </Section>
  );
}

/** Whether a layer is itself modulated, near or far, by another: the two would go round. */
function waitsFor(layers: Layer[], id: string, wanted: string): boolean {
  const seen = new Set<string>();
  let now: string | null = id;
  while (now !== null && !seen.has(now)) {
    if (now === wanted) return true;
    seen.add(now);
    now = layers.find((one) => one.id === now)?.modulation.by ?? null;
  }
  return false;
}
