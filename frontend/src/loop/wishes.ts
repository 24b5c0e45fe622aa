import type { PlayedSource, RoundPlan, TryOutPart } from "../api";
import { bedWish, hitWish, type Heard, type Wish } from "./hits";

/** Everything that is wanted from a moment of a round on, in the order in which it is heard. */
export function wishesOf(heard: Heard, plan: RoundPlan, fromS = 0): Wish[] {
  const parts = new Map(heard.document.parts.map((part) => [part.id, part]));
  const found = new Map<string, Wish>();
  for (const part of heard.document.parts) {
    const source = sourceOf(plan, part.id);
    if (part.plays.kind !== "bed" || !source || source.missing !== "") continue;
    const wish = bedWish(heard, part, source);
    found.set(wish.key, wish);
  }
  const later = plan.events.filter(({ at_s }) => at_s >= fromS);
  const sooner = plan.events.filter(({ at_s }) => at_s < fromS);
  for (const event of [...later, ...sooner]) {
    const part = parts.get(event.part);
    const source = sourceOf(plan, event.part);
    if (!part || !source || source.missing !== "") continue;
    const wish = hitWish(heard, part, event, source);
    if (!found.has(wish.key)) found.set(wish.key, wish);
  }
  return [...found.values()];
}

/** What a part plays, by a plan. */
export const sourceOf = (plan: RoundPlan, part: string): PlayedSource | undefined =>
  plan.sources.find((one) => one.part === part);

/** A bed of which anything of this has changed begins anew where it is. */
export function bedMark(heard: Heard, plan: RoundPlan, part: TryOutPart, wish: Wish): string {
  const { low_cut_hz, high_cut_hz, fade_in_s, fade_out_s, pan } = part;
  const ducks = plan.ducks.filter((duck) => duck.part === part.id);
  const shaped = { low_cut_hz, high_cut_hz, fade_in_s, fade_out_s, pan, ducks };
  return `${wish.key} ${heard.document.length_s} ${JSON.stringify(shaped)}`;
}
