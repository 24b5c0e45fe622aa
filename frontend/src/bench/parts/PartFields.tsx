import type { Parameter, PartDeclaration, Sound } from "../../api";
import { FieldRow, formatValue, type MovedRange } from "../../ui";
import { LinkRing } from "./LinkRing";
import { beatsOf, linkRange, timePatch, withLinkRange, edit, useBench } from "../../sound";
import { StepHint } from "./StepHint";

interface Props {
  /** What the fields belong to, for the history: "Body". */
  owner: string;
  declaration: PartDeclaration;
  /** Where given, the part's numbers can be moved: its id, and the path to them in it. */
  partId?: string;
  path?: string;
  part: object;
  /** Fields to leave out, being shown in another way. */
  except?: string[];
  /** Where given, only these fields. */
  only?: string[];
  onChange: (
    label: string,
    patch: Record<string, unknown>,
    how: { gesture: string; moving: boolean },
  ) => void;
  /** Why a field has no effect now; null where it has. */
  idle?: (name: string) => string | null;
}

const wordsOf = (value: string | number) => String(value).replace(/_/g, "-");

/** Where the first link of a field takes it, and how its ends are put elsewhere. */
function movedRange(
  sound: Sound | null,
  target: string,
  parameter: Parameter,
  owner: string,
): MovedRange | undefined {
  const link = sound?.links.find((one) => one.target === target && one.amount !== 0);
  const range = sound && link && linkRange(sound, link, parameter);
  if (!range || range.from === range.to) return undefined;
  return {
    ...range,
    onEnd: (end, value, moving) =>
      edit(
        `${owner}: ${parameter.label} moved ${end} ${formatValue(value, parameter.unit)}`,
        (now) => withLinkRange(now, link, parameter, { ...range, [end]: value }),
        { gesture: `range-${target}-${end}`, moving },
      ),
  };
}

/** Field rows drawn from what a document part declares; a new kind needs nothing here. */
export function PartFields({
  owner,
  declaration,
  part,
  except = [],
  only,
  onChange,
  idle = () => null,
  partId,
  path = "",
}: Props) {
  const sound = useBench((state) => state.document);
  const tempoBpm = sound?.tempo_bpm ?? 120;
  const values = part as Record<string, unknown>;
  const shown = (name: string) => !except.includes(name) && (only?.includes(name) ?? true);
  return (
    <>
      {declaration.choices
        .filter(({ name }) => shown(name))
        .map(({ name, label, type, values: offered = [] }) => {
          const now = values[name];
          const set = (next: unknown, words: string) =>
            onChange(
              `${owner}: ${label} ${words}`,
              { [name]: next },
              { gesture: name, moving: false },
            );
          if (type === "switch")
            return (
              <label key={name} className="mb-1 flex min-h-6 items-center justify-between">
                {label}
                <input
                  type="checkbox"
                  className="size-4 accent-action"
                  checked={now === true}
                  onChange={(event) =>
                    set(event.target.checked, event.target.checked ? "on" : "off")
                  }
                />
              </label>
            );
          return (
            <label key={name} className="mb-1 flex min-h-6 items-center justify-between">
              {label}
              <select
                className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
                value={String(now)}
                onChange={(event) => {
                  const next = offered.find((one) => String(one) === event.target.value);
                  if (next !== undefined) set(next, wordsOf(next));
                }}
              >
                {offered.map((one) => (
                  <option key={one} value={String(one)}>
                    {name === "slope_db" ? `${one} dB/oct` : wordsOf(one)}
                  </option>
                ))}
              </select>
            </label>
          );
        })}
      {declaration.parameters
        .filter(({ name }) => shown(name))
        .map((parameter) => {
          const value = Number(values[parameter.name]);
          const target = partId === undefined ? null : `${partId}.${path}${parameter.name}`;
          return (
            <FieldRow
              key={parameter.name}
              parameter={parameter}
              value={value}
              beats={beatsOf(part, parameter.name)}
              context={{ tempoBpm }}
              idle={idle(parameter.name)}
              ring={target && <LinkRing target={target} owner={owner} />}
              range={target ? movedRange(sound, target, parameter, owner) : undefined}
              hint={
                target &&
                !parameter.whole && <StepHint target={target} parameter={parameter} value={value} />
              }
              onChange={({ value: next, moving, beats }) =>
                onChange(
                  `${owner}: ${parameter.label} ${formatValue(value, parameter.unit)} → ${beats === undefined ? formatValue(next, parameter.unit) : formatValue(beats, "beat")}`,
                  parameter.unit === "s"
                    ? timePatch(part, parameter.name, next, beats)
                    : { [parameter.name]: next },
                  { gesture: `${owner}.${parameter.name}`, moving },
                )
              }
            />
          );
        })}
    </>
  );
}
