import type { Parameter } from "../../api";
import { ValueField } from "../../ui";

interface Props {
  /** 0 to 1, one for each partial. */
  amplitudes: number[];
  /** Degrees. */
  phases: number[];
  onAmplitude: (partial: number, value: number) => void;
  onPhase: (partial: number, degrees: number) => void;
}

const PLAIN = { default: 0, whole: false, help: "", scale: "linear" } as const;
const AMPLITUDE: Parameter = {
  ...PLAIN,
  name: "amplitude",
  label: "Amplitude",
  unit: "percent",
  minimum: 0,
  maximum: 1,
  step: 0.01,
};
const PHASE: Parameter = {
  ...PLAIN,
  name: "phase",
  label: "Phase",
  unit: "deg",
  minimum: 0,
  maximum: 360,
  step: 5,
};
const CONTEXT = { tempoBpm: 120 };

/** Partials by number, with amplitude and phase to be typed. */
export function PartialTable({ amplitudes, phases, onAmplitude, onPhase }: Props) {
  return (
    <div className="mt-1 max-h-60 overflow-y-auto rounded-control border border-line bg-sheet">
      <table className="w-full" aria-label="Partials as numbers">
        <thead className="sticky top-0 bg-sheet text-[11px] text-ink-2">
          <tr>
            <th className="w-8 pl-2 text-left font-normal">#</th>
            <th className="text-right font-normal">Amplitude</th>
            <th className="pr-2 text-right font-normal">Phase</th>
          </tr>
        </thead>
        <tbody>
          {amplitudes.map((amplitude, n) => {
            const phase = phases[n] ?? 0;
            const bounded = (value: number, { minimum, maximum }: Parameter) =>
              Math.min(maximum, Math.max(minimum, value));
            return (
              <tr key={n}>
                <td className="figure pl-2 text-[11px] text-ink-2">{n + 1}</td>
                <td className="text-right">
                  <ValueField
                    id={`partial-${n}-amplitude`}
                    label={`Amplitude of partial ${n + 1}`}
                    className="inline-block w-[76px]"
                    parameter={AMPLITUDE}
                    value={amplitude}
                    context={CONTEXT}
                    onNudge={(direction) =>
                      onAmplitude(n, bounded(amplitude + direction * AMPLITUDE.step, AMPLITUDE))
                    }
                    onValue={(value) => onAmplitude(n, value)}
                  />
                </td>
                <td className="pr-1 text-right">
                  <ValueField
                    id={`partial-${n}-phase`}
                    label={`Phase of partial ${n + 1}`}
                    className="inline-block w-[76px]"
                    parameter={PHASE}
                    value={phase}
                    context={CONTEXT}
                    onNudge={(direction) =>
                      onPhase(n, bounded(phase + direction * PHASE.step, PHASE))
                    }
                    onValue={(value) => onPhase(n, value)}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
