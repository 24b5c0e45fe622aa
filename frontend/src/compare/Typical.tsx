import type { ComparedAnswer, Side } from "../api";
import { formatValue, type Unit } from "../ui";
import { lettersOf } from "./letters";
import { standsOut } from "./standsOut";
import { useTypical } from "./useCompared";

const FIGURES = {
  loudness_lufs: ["Loudness", "LUFS"],
  length_s: ["Length", "s"],
  decay_s: ["Decay to −60 dB", "s"],
  brightness_hz: ["Brightness", "Hz"],
  low_share_db: ["Low end", "dB"],
} as const satisfies Record<string, readonly [string, Unit | "LUFS"]>;

const written = (value: number, unit: Unit | "LUFS") =>
  unit === "LUFS" ? value.toFixed(1) : formatValue(value, unit);

/** The sides beside what is typical of their kind in the library; what sticks out is marked. */
export function Typical({ compared, sides }: { compared: ComparedAnswer; sides: Side[] }) {
  const typical = useTypical(sides).data;
  if (!typical || typical.figures.length === 0) return null;
  return (
    <>
      <h3 className="mt-3 mb-1 text-[12px] font-semibold text-ink-2">
        Beside {typical.count} samples of {typical.kind}
      </h3>
      <table className="w-full text-[11.5px]">
        <thead>
          <tr className="text-right text-ink-2">
            <th scope="col" className="text-left font-normal">
              <span className="sr-only">Figure</span>
            </th>
            <th
              scope="col"
              className="font-normal"
              title="The middle half of the library’s samples"
            >
              typical
            </th>
            {compared.sides.map((_, n) => (
              <th key={n} scope="col" style={{ color: lettersOf(n).colour }}>
                {lettersOf(n).letter}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {typical.figures.map(({ name, low, high }) => {
            const [title, unit] = FIGURES[name];
            return (
              <tr key={name} className="border-t border-line align-top">
                <th scope="row" className="py-0.5 pr-1 text-left font-normal">
                  {title}
                </th>
                <td className="figure py-0.5 text-right text-ink-2">
                  {written(low, unit)} to {written(high, unit)}
                </td>
                {compared.sides.map((side, n) => {
                  const out = standsOut(side[name], low, high);
                  return (
                    <td
                      key={n}
                      className={`figure py-0.5 pl-1.5 text-right ${out ? "font-semibold text-warn" : ""}`}
                      title={out ? `far ${out} what is typical` : undefined}
                    >
                      {out === "above" ? "▲ " : out === "below" ? "▼ " : ""}
                      {written(side[name], unit)}
                    </td>
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
