const KEYS: [string, string][] = [
  ["Space", "Play; hold it down to hold the note"],
  ["A W S E D F T G Y H U J K …", "Play notes, from the left C of the keys"],
  ["Z, X", "Keys an octave down, up"],
  ["1 to 8", "Select a layer"],
  ["L, P with Shift", "Edit its level or pitch curve"],
  ["B, Shift B", "Bypass the selected processor, or all effects"],
  ["/", "Add a processor by typing; it plays while you choose"],
  ["Ctrl K", "Find any command, processor, parameter or sound"],
  ["Ctrl C, Ctrl V", "Copy the selected processor, paste after the selection"],
  ["+, −", "Zoom in, out"],
  ["9, Shift 0, 0", "Show the first 50 ms, the selection, everything"],
  ["Shift 1 to 4", "Go to a pinned state"],
  ["Ctrl Z, Ctrl Shift Z", "Undo, redo"],
  [
    "On a point: arrows",
    "Move it (Shift: ten times, Alt: a tenth); with a grid, from line to line",
  ],
  ["On a point: Enter, Ctrl A", "Select it, select all"],
  ["On a point: Delete", "Remove the selected points"],
  ["?", "This list"],
];

export function ShortcutList() {
  return (
    <dl className="grid grid-cols-[220px_1fr] gap-x-4 gap-y-1.5">
      {KEYS.map(([keys, what]) => (
        <div key={keys} className="contents">
          <dt className="figure text-[12px]">{keys}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
