import { api, resultOf, type RoundPlan, type TryOut } from "../api";

/** Plans of the rounds of documents; a document that has changed is another one. */
const plans = new WeakMap<TryOut, Map<number, Promise<RoundPlan>>>();

/** What is heard in a round, and when. All rounds of a document without chances are the same. */
export async function planOf(document: TryOut, round = 0): Promise<RoundPlan> {
  const known = plans.get(document) ?? new Map<number, Promise<RoundPlan>>();
  plans.set(document, known);
  const first = known.get(0);
  if (round > 0 && first && !(await first).varies) return first;
  const found = known.get(round) ?? ask(document, round);
  known.set(round, found);
  // What failed is asked for again.
  found.catch(() => known.delete(round));
  if (known.size > 40) known.delete([...known.keys()].find((one) => one > 0) ?? round);
  return found;
}

const ask = (document: TryOut, round: number) =>
  resultOf(
    api.POST("/api/tryouts/plan", {
      body: { document: { ...document }, drafts: [], round_number: round },
    }),
  );
