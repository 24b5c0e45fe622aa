import { api, resultOf, type RoundPlan, type TryOut } from "../api";

/** Plans of the rounds of documents; a document that has changed is another one. */
const plans = new WeakMap<TryOut, Map<number, Promise<RoundPlan>>>();

const ready = new WeakMap<TryOut, Map<number, RoundPlan>>();

/** A plan that is there already; null where it has to be asked for. */
export function readyPlan(document: TryOut, round: number): RoundPlan | null {
  const known = ready.get(document);
  const first = known?.get(0);
  return known?.get(round) ?? (first && !first.varies ? first : null);
}

/** What is heard in a round, and when. All rounds of a document without chances are the same. */
export async function planOf(document: TryOut, round = 0): Promise<RoundPlan> {
  const known = plans.get(document) ?? new Map<number, Promise<RoundPlan>>();
  plans.set(document, known);
  const first = known.get(0);
  if (round > 0 && first && !(await first).varies) return first;
  const found = known.get(round) ?? ask(document, round);
  known.set(round, found);
  found.then(
    (plan) => {
      const there = ready.get(document) ?? new Map<number, RoundPlan>();
      ready.set(document, there.set(round, plan));
    },
    // What failed is asked for again.
    () => known.delete(round),
  );
  if (known.size > 40) forget(document, known, round);
  return found;
}

const ask = (document: TryOut, round: number) =>
  resultOf(
    api.POST("/api/tryouts/plan", {
      body: { document: { ...document }, drafts: [], round_number: round },
    }),
  );

function forget(document: TryOut, known: Map<number, Promise<RoundPlan>>, round: number): void {
  const oldest = [...known.keys()].find((one) => one > 0) ?? round;
  known.delete(oldest);
  ready.get(document)?.delete(oldest);
}
