import { chordText, COMMANDS, HELD_KEYS, POINT_KEYS } from "../commands";

const ROWS: [string, string][] = [
  ...HELD_KEYS,
  ...COMMANDS.flatMap(({ name, keys, written }): [string, string][] =>
    keys ? [[written ?? keys.map(chordText).join(", "), name]] : [],
  ),
  ...POINT_KEYS,
];

/** Every shortcut, from the declared commands. */
export function ShortcutList() {
  return (
    <dl className="grid grid-cols-[220px_1fr] gap-x-4 gap-y-1">
      {ROWS.map(([keys, what]) => (
        <div key={what} className="contents">
          <dt className="figure text-[12px]">{keys}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
