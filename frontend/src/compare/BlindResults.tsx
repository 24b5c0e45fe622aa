import type { BlindTestAnswer, Side } from "../api";
import { lettersOf, type Named } from "./letters";
import { useBlindTests } from "./useCompared";
import { chanceText } from "./verdict";

/** What was heard in blind tests of just these sides, by whom. */
export function BlindResults({ sides, names }: { sides: Side[]; names: Named[] }) {
  const tests = useBlindTests(sides);
  if (!tests.data) return null;
  if (tests.data.length === 0)
    return (
      <p className="text-[12.5px] text-ink-2">
        {names.some((one) => one.in_library)
          ? "None yet. Results are kept with the library, so that a team can vote."
          : "Results are kept once a side is in a library."}
      </p>
    );
  return (
    <ul className="grid gap-1 text-[12.5px]">
      {tests.data.map((one) => (
        <li key={one.id}>
          {wordsOf(one)} <span className="text-ink-2">{one.by}</span>
        </li>
      ))}
    </ul>
  );
}

function wordsOf(test: BlindTestAnswer): string {
  if (test.kind === "ranking") return test.ranking.map((n) => lettersOf(n).letter).join(" > ");
  return `${test.correct} of ${test.trials} right, ${chanceText(test.chance ?? 1)}`;
}
