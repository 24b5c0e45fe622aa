import type { Parameter, PartDeclaration } from "../api";
import { useTryOut } from "../loop";
import { beatsOf, timePatch } from "../sound";
import { Choice, FieldRow, formatValue } from "../ui";

interface Props<Part extends object> {
  declared: PartDeclaration;
  part: Part;
  /** Names of the numbers and choices that are shown, in this order. */
  names: readonly (keyof Part & string)[];
  /** Words of choices, where their values are not words. */
  words?: Record<string, Record<string, string>>;
  /** Why a field has no effect now. */
  idle?: Partial<Record<string, string | null>>;
  onChange: (label: string, patch: Partial<Part>, moving: boolean) => void;
}

/** Rows for declared numbers, switches and choices of a part of the try-out. */
export function Fields<Part extends object>(props: Props<Part>) {
  const { declared, part, names } = props;
  const tempoBpm = useTryOut((state) => state.document?.tempo_bpm ?? 120);
  return (
    <div className="grid gap-0.5">
      {names.map((name) => {
        const parameter = declared.parameters.find((one) => one.name === name);
        if (parameter)
          return (
            <NumberRow
              key={name}
              {...props}
              name={name}
              parameter={parameter}
              tempoBpm={tempoBpm}
            />
          );
        const choice = declared.choices.find((one) => one.name === name);
        if (!choice) return null;
        const value = part[name];
        if (choice.type === "switch")
          return (
            <label key={name} className="flex min-h-6 items-center gap-2">
              <input
                type="checkbox"
                checked={Boolean(value)}
                onChange={(event) =>
                  props.onChange(
                    `${choice.label} ${event.target.checked ? "on" : "off"}`,
                    { [name]: event.target.checked } as Partial<Part>,
                    false,
                  )
                }
              />
              {choice.label}
            </label>
          );
        return (
          <Choice
            key={name}
            label={choice.label}
            value={String(value)}
            options={(choice.values ?? []).map((one) => [
              String(one),
              props.words?.[name]?.[String(one)] ?? String(one),
            ])}
            onChange={(next) => {
              const typed = choice.values?.find((one) => String(one) === next);
              props.onChange(choice.label, { [name]: typed } as Partial<Part>, false);
            }}
          />
        );
      })}
    </div>
  );
}

interface RowProps<Part extends object> extends Props<Part> {
  name: keyof Part & string;
  parameter: Parameter;
  tempoBpm: number;
}

function NumberRow<Part extends object>(props: RowProps<Part>) {
  const { name, parameter, part, tempoBpm } = props;
  const value = Number(part[name]);
  return (
    <FieldRow
      parameter={parameter}
      value={value}
      beats={beatsOf(part, name)}
      context={{ tempoBpm }}
      idle={props.idle?.[name] ?? null}
      onChange={({ value: next, moving, beats }) => {
        const timed = parameter.unit === "s" && "in_beats" in part;
        const patch =
          timed || beats !== undefined ? timePatch(part, name, next, beats) : { [name]: next };
        const shown = beats === undefined ? formatValue(next, parameter.unit) : `${beats} beats`;
        props.onChange(
          `${parameter.label} ${formatValue(value, parameter.unit)} → ${shown}`,
          patch as Partial<Part>,
          moving,
        );
      }}
    />
  );
}
