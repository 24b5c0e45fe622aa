import { useState } from "react";
import { renderRequest, resultOf, api, ApiError, type RegisterAnswer, type Sound } from "../../api";
import { DialogFrame, noteName } from "../../ui";
import { useBench } from "../../sound";
import { applyFix } from "./applyFix";

type Reading = RegisterAnswer["readings"][number];

const SILENT_DB = -120;
const ROWS: { name: string; title: string; floor: number; of: (one: Reading) => number }[] = [
  { name: "Loudness", title: "LUFS", floor: -60, of: (one) => one.loudness_lufs },
  {
    name: "2 to 6 kHz",
    title: "Share of the whole, in dB; heard as harsh",
    floor: -40,
    of: (one) => one.harsh_db,
  },
  { name: "Below 120 Hz", title: "Share of the whole, in dB", floor: -40, of: (one) => one.low_db },
  {
    name: "Fundamental",
    title: "Share within a semitone of the note, in dB",
    floor: -40,
    of: (one) => one.fundamental_db ?? SILENT_DB,
  },
];

/** The sound over the keyboard: where it is loud, harsh, thin, with a tilt where that helps. */
export function RegisterButton() {
  const document = useBench((state) => state.document);
  const [open, setOpen] = useState(false);
  const [found, setFound] = useState<{ document: Sound; answer: RegisterAnswer } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const measure = async () => {
    setOpen(true);
    setProblem(null);
    if (!document || found?.document === document) return;
    try {
      const body = renderRequest(document, "draft");
      setFound({ document, answer: await resultOf(api.POST("/api/judging/register", { body })) });
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The notes could not be rendered");
    }
  };
  const answer = found?.document === document ? found?.answer : undefined;
  return (
    <>
      <button
        type="button"
        title="Renders a note every half octave from C1 to C7"
        className="mt-2 min-h-6 rounded-control border border-line-strong px-2 text-[12px] text-action hover:bg-band"
        onClick={() => void measure()}
      >
        Over the keyboard…
      </button>
      <DialogFrame open={open} onClose={() => setOpen(false)} title="Over the keyboard" wide>
        {problem && <p role="alert">{problem}</p>}
        {answer ? (
          <Readings answer={answer} ownNote={document?.hit.note ?? 60} />
        ) : (
          !problem && <p aria-busy>Rendering thirteen notes…</p>
        )}
        {answer?.fixes.map((fix) => (
          <button
            key={fix.label}
            type="button"
            className="mt-3 min-h-7 rounded-control border border-line-strong px-2 text-action hover:bg-band"
            onClick={() => {
              applyFix(fix);
              setOpen(false);
            }}
          >
            {fix.label}: a high shelf with key tracking
          </button>
        ))}
      </DialogFrame>
    </>
  );
}

function Readings({ answer, ownNote }: { answer: RegisterAnswer; ownNote: number }) {
  const nearest = answer.readings.reduce((a, b) =>
    Math.abs(b.note - ownNote) < Math.abs(a.note - ownNote) ? b : a,
  );
  return (
    <table className="w-full text-[11px]">
      <thead>
        <tr className="text-ink-2">
          <td />
          {answer.readings.map(({ note }) => (
            <th
              key={note}
              className={`figure font-normal ${note === nearest.note ? "text-action" : ""}`}
            >
              {noteName(note)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {ROWS.map(({ name, title, floor, of }) => (
          <tr key={name} title={title}>
            <th className="pr-2 text-left font-normal whitespace-nowrap text-ink-2">{name}</th>
            {answer.readings.map((one) => {
              const level = of(one);
              const share = Math.max(0, Math.min(1, 1 - level / floor));
              return (
                <td key={one.note} className="px-0.5 pb-1">
                  <span className="flex h-8 items-end rounded-sm bg-band" aria-hidden>
                    <span
                      className="w-full rounded-sm bg-action"
                      style={{ height: `${100 * share}%` }}
                    />
                  </span>
                  <span className="figure block text-center text-[9.5px]">
                    {level <= SILENT_DB ? "–" : level.toFixed(0)}
                  </span>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
