import { TRYOUT_KINDS } from "../api";
import { editTryOut, useTryOut } from "../loop";
import { beatsOf, timePatch } from "../sound";
import { formatValue, ValueField } from "../ui";
import { GRIDS, useTryOutRuler } from "./rulerStore";

/** Tempo, length, swing, and the grid that hits snap to. */
export function TimeFields() {
  const document = useTryOut((state) => state.document);
  const grid = useTryOutRuler((state) => state.grid);
  if (!document) return null;
  const field = (name: string) =>
    TRYOUT_KINDS.tryout.parameters.find((parameter) => parameter.name === name);
  const context = { tempoBpm: document.tempo_bpm };
  const tempo = field("tempo_bpm");
  const length = field("length_s");
  const swing = field("swing");
  const set = (label: string, patch: object) => editTryOut(label, (now) => ({ ...now, ...patch }));
  return (
    <div
      role="group"
      aria-label="Time"
      className="flex min-h-8 flex-wrap items-center divide-x divide-line-strong rounded-control border border-line-strong bg-sheet"
    >
      {tempo && (
        <Labelled label="Tempo">
          <ValueField
            id="tryout-tempo"
            label="Tempo"
            className="w-[38px]"
            parameter={tempo}
            value={document.tempo_bpm}
            context={context}
            onNudge={(by) => set("Tempo", { tempo_bpm: Math.max(20, document.tempo_bpm + by) })}
            onValue={(value) =>
              set(
                `Tempo ${formatValue(document.tempo_bpm, "bpm")} → ${formatValue(value, "bpm")}`,
                {
                  tempo_bpm: value,
                },
              )
            }
          />
        </Labelled>
      )}
      {length && (
        <Labelled label="Length">
          <ValueField
            id="tryout-length"
            label="Length"
            className="w-[70px]"
            parameter={length}
            value={document.length_s}
            beats={beatsOf(document, "length_s")}
            context={context}
            onNudge={(by) => {
              const beats = Math.max(
                1,
                Math.round((document.length_s * document.tempo_bpm) / 60) +
                  by * document.beats_a_bar,
              );
              const seconds = (beats * 60) / document.tempo_bpm;
              set("Length", timePatch(document, "length_s", seconds, beats));
            }}
            onValue={(value, beats) => set("Length", timePatch(document, "length_s", value, beats))}
          />
        </Labelled>
      )}
      {swing && (
        <Labelled label="Swing">
          <ValueField
            id="tryout-swing"
            label="Swing"
            className="w-[44px]"
            parameter={swing}
            value={document.swing}
            context={context}
            onNudge={(by) =>
              set("Swing", { swing: Math.min(0.75, Math.max(0.5, document.swing + by / 100)) })
            }
            onValue={(value) => set("Swing", { swing: value })}
          />
        </Labelled>
      )}
      <Labelled label="Grid">
        <select
          aria-label="Grid"
          value={grid}
          className="figure h-6 bg-transparent"
          onChange={(event) => useTryOutRuler.setState({ grid: event.target.value })}
        >
          {GRIDS.map(([name]) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </select>
      </Labelled>
    </div>
  );
}

function Labelled({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-1 px-2">
      <span className="text-[11px] text-ink-2">{label}</span>
      {children}
    </span>
  );
}
