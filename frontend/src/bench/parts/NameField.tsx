interface Props {
  /** What it is the name of: "Name of the bus". */
  label: string;
  name: string;
  /** Another name, trimmed and neither empty nor the same. */
  onRename: (name: string) => void;
}

const LONGEST = 60;

/** The name of a part as the title of its inspector, changed in place. */
export function NameField({ label, name, onRename }: Props) {
  const rename = (typed: string) => {
    const next = typed.trim().slice(0, LONGEST);
    if (next !== "" && next !== name) onRename(next);
  };
  return (
    <input
      aria-label={label}
      className="min-w-0 flex-1 bg-transparent font-title text-[16px] font-semibold"
      key={name}
      defaultValue={name}
      maxLength={LONGEST}
      onBlur={(event) => rename(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}
