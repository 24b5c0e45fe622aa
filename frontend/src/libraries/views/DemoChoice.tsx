import { useTryOuts } from "../../loop";

interface Props {
  libraryId: number;
  chosen: number[];
  onChange: (chosen: number[]) => void;
}

/** Try-outs of the library whose mixes go into a release as demos. */
export function DemoChoice({ libraryId, chosen, onChange }: Props) {
  const tryouts = useTryOuts();
  const offered = (tryouts.data ?? []).filter((one) => one.library_id === libraryId);
  if (offered.length === 0) return null;
  return (
    <fieldset className="mt-2 flex flex-wrap items-center gap-x-4 text-[12.5px]">
      <legend className="float-left mr-3 text-ink-2">Demos</legend>
      {offered.map(({ id, name }) => (
        <label key={id} className="inline-flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            checked={chosen.includes(id)}
            onChange={(event) =>
              onChange(event.target.checked ? [...chosen, id] : chosen.filter((one) => one !== id))
            }
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
