/** How likely a result is by guessing, as the trade writes it. */
export function chanceText(chance: number): string {
  if (chance < 0.001) return "p < 0.001";
  return `p = ${chance.toFixed(chance < 0.1 ? 3 : 2)}`;
}

/** What an A/B/X result means, plainly. */
export function verdictOf(correct: number, trials: number, chance: number): string {
  if (trials < 8) return "Too few trials to say. Take eight at least.";
  if (chance <= 0.01) return "You hear the difference.";
  if (chance <= 0.05) return "You probably hear the difference.";
  if (correct / trials > 0.6) return "Perhaps. More trials would tell.";
  return "No difference heard: guessing gives the same.";
}

/** The places of some sides in a shuffled order. */
export function shuffled(count: number, random: () => number = Math.random): number[] {
  const places = Array.from({ length: count }, (_, n) => n);
  for (let n = count - 1; n > 0; n--) {
    const other = Math.floor(random() * (n + 1));
    [places[n], places[other]] = [places[other] ?? n, places[n] ?? other];
  }
  return places;
}
