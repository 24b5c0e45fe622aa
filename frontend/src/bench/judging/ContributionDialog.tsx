import { useState } from "react";
import {
  renderRequest,
  resultOf,
  api,
  ApiError,
  useDeclarations,
  type Contribution,
  type Declarations,
  type Sound,
} from "../../api";
import { DialogFrame, formatValue } from "../../ui";
import { stepName, targetsOf, useBench } from "../../sound";
import { applyFix } from "./applyFix";

const IDLE_DB = 0.1;
const FULL_BAR_DB = 24;

/** Opens the list of what each part contributes. */
export function ContributionButton() {
  const document = useBench((state) => state.document);
  const known = useBench((state) => state.contributions);
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const measure = async () => {
    setOpen(true);
    setProblem(null);
    if (!document || known?.document === document) return;
    try {
      const body = renderRequest(document);
      const { parts } = await resultOf(api.POST("/api/judging/contributions", { body }));
      useBench.setState({ contributions: { document, parts } });
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The parts could not be compared");
    }
  };
  const parts = known?.document === document ? known?.parts : undefined;
  return (
    <>
      <button
        type="button"
        title="Remove each part once and measure the difference"
        className="ml-auto min-h-6 rounded-sm px-1.5 text-[11.5px] text-action hover:bg-band"
        onClick={() => void measure()}
      >
        Contributions
      </button>
      <DialogFrame
        open={open}
        onClose={() => setOpen(false)}
        title="Contribution of each part"
        wide
      >
        {problem && <p role="alert">{problem}</p>}
        {document && parts ? (
          <PartList
            parts={parts}
            sound={document}
            onFix={(part) => {
              applyFix(part.fix);
              setOpen(false);
            }}
          />
        ) : (
          !problem && <p aria-busy>Removing each part once…</p>
        )}
      </DialogFrame>
    </>
  );
}

interface ListProps {
  parts: Contribution[];
  sound: Sound;
  onFix: (part: Contribution) => void;
}

function PartList({ parts, sound, onFix }: ListProps) {
  const declarations = useDeclarations().data;
  const idle = parts.filter(({ change_db }) => change_db < IDLE_DB).length;
  return (
    <>
      <p className="mb-2 text-ink-2">
        Each part is removed once. The figure is the largest change of level in any short time and
        band.{" "}
        {idle > 0
          ? `${idle} of ${parts.length} change nothing and can be removed.`
          : "Every part changes the sound."}
      </p>
      <table className="w-full border-collapse">
        <thead className="text-left text-[11.5px] text-ink-2">
          <tr>
            <th className="font-normal">Part</th>
            <th className="w-[150px] font-normal">Change</th>
            <th className="w-[90px] text-right font-normal">Loudness</th>
            <th className="w-[96px] text-right font-normal">Remove</th>
          </tr>
        </thead>
        <tbody>
          {parts.map((part) => {
            const none = part.change_db < IDLE_DB;
            return (
              <tr
                key={`${part.kind} ${part.id} ${part.owner}`}
                className={`border-t border-line ${none ? "text-ink-2" : ""}`}
              >
                <td className="py-1 pr-2">
                  {declarations ? wordsOf(part, sound, declarations) : part.name}
                </td>
                <td className="figure">
                  {none ? (
                    "no change"
                  ) : (
                    <span className="flex items-center gap-1.5 whitespace-nowrap">
                      <span
                        aria-hidden
                        className="h-1.5 rounded-full bg-action"
                        style={{ width: 6 + Math.min(1, part.change_db / FULL_BAR_DB) * 50 }}
                      />
                      {part.change_db > 40 ? "over 40" : part.change_db.toFixed(1)} dB
                    </span>
                  )}
                </td>
                <td className="figure text-right">
                  {none ? "" : `${formatValue(part.loudness_db, "dB").replace(" dB", "")} LU`}
                </td>
                <td className="text-right">
                  <button
                    type="button"
                    className="min-h-6 rounded-control border border-line-strong px-2 text-[12px] text-action hover:bg-band"
                    onClick={() => onFix(part)}
                  >
                    {part.fix.label}
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

function wordsOf(part: Contribution, sound: Sound, declarations: Declarations): string {
  switch (part.kind) {
    case "layer":
      return part.name;
    case "processor":
      return stepName(sound, part.id) ?? part.owner;
    case "link": {
      const found = targetsOf(sound, declarations).find(({ target }) => target === part.id);
      return `${found ? `${found.owner}: ${found.parameter.label}` : part.id} moved by ${part.name}`;
    }
  }
}
