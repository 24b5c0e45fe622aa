import type { ComparedAnswer, Side } from "../api";
import { FIGURES, figureRow } from "./figureRow";
import { lettersOf } from "./letters";
import { standsOut } from "./standsOut";
import { useTypical } from "./useCompared";

/** The sides beside what is typical of their kind in the library; what sticks out is marked. */
export function Typical({ compared, sides }: { compared: ComparedAnswer; sides: Side[] }) {
  const typical = useTypical(sides).data;
  if (!typical || typical.figures.length === 0) return null;
  return (
    <>
      <h3 className="mt-3 mb-1 text-[12px] font-semibold text-ink-2">
        Beside {typical.count} samples of {typical.kind}
      </h3>
      <table className="w-full text-[11px]">
        <thead>
          <tr className="text-right text-ink-2">
            <th scope="col">
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
          {typical.figures.map((figure) => (
            <Figure key={figure.name} figure={figure} compared={compared} />
          ))}
        </tbody>
      </table>
    </>
  );
}

interface FigureProps {
  figure: { name: keyof typeof FIGURES; low: number; high: number };
  compared: ComparedAnswer;
}

function Figure({ figure: { name, low, high }, compared }: FigureProps) {
  const values = compared.sides.map((side) => side[name]);
  const { unit, texts } = figureRow(name, [low, high, ...values]);
  const [from, to, ...own] = texts;
  return (
    <tr className="border-t border-line">
      <th scope="row" className="py-1 text-left font-normal">
        {FIGURES[name].title}
        <span className="block text-[10px] text-ink-2">{unit}</span>
      </th>
      <td className="figure py-1 text-right text-ink-2">
        {from}
        <span className="block">to {to}</span>
      </td>
      {own.map((text, n) => {
        const out = standsOut(values[n] ?? 0, low, high);
        return (
          <td
            key={n}
            className={`figure py-1 pl-1 text-right ${out ? "font-semibold text-warn" : ""}`}
            title={out ? `far ${out} what is typical` : undefined}
          >
            {text}
            {out && <span className="block">{out === "above" ? "▲" : "▼"}</span>}
          </td>
        );
      })}
    </tr>
  );
}
