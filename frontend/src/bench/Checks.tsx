import type { Remark } from "../api/types";
import { withEdits } from "./edits";
import { edit, useBench } from "./store";

const SIGNS: Record<Remark["severity"], { sign: string; tone: string; words: string }> = {
  good: { sign: "✓", tone: "text-good", words: "good" },
  warn: { sign: "!", tone: "text-warn", words: "look" },
  bad: { sign: "✕", tone: "text-bad", words: "wrong" },
};
const NONE: Remark[] = [];

/** What the render says about the sound, each with its mend where there is one. */
export function Checks() {
  const remarks = useBench((state) => state.audition?.remarks ?? NONE);
  const layers = useBench((state) => state.document?.layers);
  return (
    <section
      aria-label="Checks"
      className="m-2.5 ml-0 w-[286px] shrink-0 overflow-y-auto rounded-card border border-line-strong bg-sheet px-3 py-2"
    >
      <h3 className="mb-1 text-[12.5px] font-semibold">Checks</h3>
      <ul className="grid gap-0.5">
        {remarks.map((remark) => {
          const { sign, tone, words } = SIGNS[remark.severity];
          const where = layers?.find(({ id }) => id === remark.layer)?.name;
          return (
            <li
              key={`${remark.code}${remark.layer}`}
              className="flex min-h-6 items-center gap-2 text-[12.5px]"
            >
              <span
                className={`w-3 text-center font-semibold ${tone}`}
                role="img"
                aria-label={words}
              >
                {sign}
              </span>
              <span className="flex-1">
                {where ? `${where}: ` : ""}
                {remark.text}
              </span>
              {remark.mends.map((mend) => (
                <button
                  key={mend.label}
                  type="button"
                  className="min-h-6 rounded-control border border-line-strong px-2 text-[12px] text-action hover:bg-band"
                  onClick={() =>
                    edit(`Mended: ${mend.label.toLowerCase()}`, (sound) =>
                      withEdits(sound, mend.edits),
                    )
                  }
                >
                  {mend.label}
                </button>
              ))}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
