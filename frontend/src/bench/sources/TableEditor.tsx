import type { CyclesData, WavetableSource, WaveTable } from "../../api";
import { signedBytesOf } from "../../ui";
import { PartialEditor } from "./PartialEditor";
import { CycleEditor } from "./CycleEditor";
import type { SourceProps } from "./sourceProps";
import { MOST_KEYS, TableKeys } from "./TableKeys";
import { WholeField } from "./WholeField";

interface Props extends SourceProps<WavetableSource> {
  cycles: CyclesData | null;
}

const POINTS = 64;
const PLAIN = { amplitudes: [1], phases_deg: [], tilt_db: 0, odd_even: 0, comb: 0 };
const SINE = Array.from({ length: POINTS }, (_, n) => Math.sin((2 * Math.PI * n) / POINTS));

const WORDS: Record<WaveTable["origin"], string> = {
  stock: "built in",
  partials: "from partials",
  drawn: "drawn by hand",
  imported: "from a file",
  sliced: "from a sample",
};

/** What a table is made of, and what can be set of it; any table can be drawn over. */
export function TableEditor(props: Props) {
  const { owner, source, declarations, onChange, cycles } = props;
  const { table } = source;
  const put = (words: string, next: WaveTable, moving = false, gesture = "table") =>
    onChange(`${owner}: table ${words}`, { table: next }, { gesture, moving });
  return (
    <div className="mb-1 grid gap-1">
      <div className="flex min-h-6 items-center justify-between gap-2">
        <span className="min-w-0 truncate text-ink-2">
          {"name" in table && table.name ? `${table.name}, ` : ""}
          {WORDS[table.origin]}
        </span>
        <span className="flex gap-1">
          {table.origin !== "partials" && (
            <Small
              onClick={() =>
                put("of partials", { origin: "partials", keys: [PLAIN, PLAIN], frames: 64 })
              }
            >
              Partials
            </Small>
          )}
          {table.origin !== "drawn" && (
            <Small
              onClick={() => put("drawn", { origin: "drawn", keys: drawnFrom(cycles), frames: 64 })}
            >
              Draw
            </Small>
          )}
        </span>
      </div>
      {table.origin === "partials" && (
        <TableKeys
          count={table.keys.length}
          onAdd={(at) => put("Add a set", { ...table, keys: doubled(table.keys, at) })}
          onRemove={(at) =>
            put("Remove a set", { ...table, keys: table.keys.filter((_, n) => n !== at) })
          }
        >
          {(at) => (
            <PartialEditor
              key={at}
              owner={owner}
              partials={table.keys[at] ?? PLAIN}
              declaration={declarations.partials}
              onChange={(label, patch, how) =>
                onChange(
                  label,
                  {
                    table: {
                      ...table,
                      keys: table.keys.map((one, n) => (n === at ? { ...one, ...patch } : one)),
                    },
                  },
                  how,
                )
              }
            />
          )}
        </TableKeys>
      )}
      {table.origin === "drawn" && (
        <TableKeys
          count={table.keys.length}
          onAdd={(at) => put("Add a cycle", { ...table, keys: doubled(table.keys, at) })}
          onRemove={(at) =>
            put("Remove a cycle", { ...table, keys: table.keys.filter((_, n) => n !== at) })
          }
        >
          {(at) => (
            <CycleEditor
              levels={table.keys[at] ?? SINE}
              onDraw={(levels, gesture, moving) =>
                put(
                  "drawn",
                  { ...table, keys: table.keys.map((one, n) => (n === at ? levels : one)) },
                  moving,
                  gesture,
                )
              }
            />
          )}
        </TableKeys>
      )}
      {"frames" in table && (
        <WholeField
          label="Frames"
          value={table.frames}
          low={1}
          high={256}
          onValue={(frames) => put(`of ${frames} frames`, { ...table, frames })}
        />
      )}
      {table.origin === "imported" && (
        <WholeField
          label="Samples a cycle"
          value={table.cycle_frames}
          low={256}
          high={4096}
          onValue={(cycle_frames) => put(`cycles of ${cycle_frames}`, { ...table, cycle_frames })}
        />
      )}
      {table.origin === "sliced" && (
        <WholeField
          label="Pitch of the sample, Hz"
          value={table.hz}
          low={10}
          high={8000}
          onValue={(hz) => put(`sliced at ${hz} Hz`, { ...table, hz })}
        />
      )}
    </div>
  );
}

const doubled = <T,>(list: T[], at: number): T[] =>
  list.length >= MOST_KEYS
    ? list
    : [...list.slice(0, at + 1), list[at] as T, ...list.slice(at + 1)];

/** A few cycles of what the table is now, to be drawn on. */
function drawnFrom(cycles: CyclesData | null): number[][] {
  if (!cycles) return [SINE, SINE];
  const samples = signedBytesOf(cycles.data);
  const count = Math.min(4, cycles.frames);
  return Array.from({ length: Math.max(2, count) }, (_, k) => {
    const frame = Math.round((k / Math.max(1, Math.max(2, count) - 1)) * (cycles.frames - 1));
    return Array.from({ length: POINTS }, (_, n) => {
      const column = Math.floor((n / POINTS) * cycles.columns);
      return (samples[frame * cycles.columns + column] ?? 0) / 127;
    });
  });
}

function Small({ onClick, children }: { onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      className="min-h-6 rounded-control border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band"
      onClick={onClick}
    >
      {children}
    </button>
  );
}
