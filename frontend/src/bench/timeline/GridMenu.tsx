import { GRIDS, gridLabel, useRuler } from "../parts";

/** What points snap to; Alt goes between the lines. */
export function GridMenu() {
  const grid = useRuler((state) => state.grid);
  return (
    <label
      className="ml-auto inline-flex items-center gap-1.5 text-[12px]"
      title="Alt: no snapping"
    >
      Snap to
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-[12px]"
        value={gridLabel(grid)}
        onChange={(event) => {
          const chosen = GRIDS.find(({ label }) => label === event.target.value);
          if (chosen) useRuler.setState({ grid: chosen.grid });
        }}
      >
        {GRIDS.map(({ label }) => (
          <option key={label}>{label}</option>
        ))}
      </select>
    </label>
  );
}
