import {
  TRYOUT_DEFAULTS,
  type Duck,
  type JudgedOverlap,
  type TryOut,
  type TryOutPart,
} from "../api";
import { formatValue } from "../ui";

/** Something that would help, in words and as a change of the try-out. */
export interface Way {
  key: string;
  words: string;
  figure: string;
  change: (document: TryOut) => TryOut;
  /** Of a longer attack, so that a sound on the Bench can have it in its own curves. */
  attackS?: number;
}

const changed = (
  document: TryOut,
  id: string,
  change: (part: TryOutPart) => TryOutPart,
): TryOut => ({
  ...document,
  parts: document.parts.map((part) => (part.id === id ? change(part) : part)),
});

const withDuck = (document: TryOut, duck: Duck): TryOut => ({
  ...document,
  ducks: [...document.ducks.filter(({ part, by }) => part !== duck.part || by !== duck.by), duck],
});

/** Whether a duck would close a circle of parts that pull each other down. */
function closesCircle(document: TryOut, part: string, by: string): boolean {
  const below = new Set([part]);
  for (let size = 0; size !== below.size;) {
    size = below.size;
    for (const duck of document.ducks) if (below.has(duck.by)) below.add(duck.part);
  }
  return below.has(by);
}

/** Worth the change: a sum that gains so much by a shift or by turning polarity. */
const GAINS_DB = 1;

interface Meeting {
  document: TryOut;
  judged: JudgedOverlap;
  first: TryOutPart;
  /** The part that gives way. */
  second: TryOutPart;
  /** The note that the second plays where its hits name none; null: it plays none. */
  ownNote: number | null;
}

/** The ways out that were computed, each an ordinary edit. */
export function waysOut(meeting: Meeting): Way[] {
  const { document, judged, first, second } = meeting;
  const ducked = document.ducks.find(({ part, by }) => part === second.id && by === first.id);
  const ways: Way[] = judged.offers.flatMap((offer): Way[] => {
    // What is pulled down already is pulled down further.
    const amount = Math.min(60, offer.value + (ducked?.amount_db ?? 0));
    const figure = `${formatValue(offer.after_db - offer.before_db, "dB")} hidden`;
    switch (offer.kind) {
      case "attack":
        return [
          {
            key: "attack",
            words: `${second.name}: attack ${formatValue(offer.value, "s")}`,
            figure,
            attackS: offer.value,
            change: (now) =>
              changed(now, second.id, (part) => ({
                ...part,
                attack_s: Math.max(part.attack_s, offer.value),
              })),
          },
        ];
      case "low_cut":
        return [
          {
            key: "low_cut",
            words: `${second.name}: low cut ${formatValue(offer.value, "Hz")}`,
            figure,
            change: (now) =>
              changed(now, second.id, (part) => ({
                ...part,
                low_cut_hz: Math.max(part.low_cut_hz, offer.value),
              })),
          },
        ];
      case "duck":
        return closesCircle(document, second.id, first.id)
          ? []
          : [
              {
                key: "duck",
                words: `Duck ${second.name} under ${first.name} by ${formatValue(amount, "dB").replace("+", "")}`,
                figure,
                change: (now) =>
                  withDuck(now, {
                    ...TRYOUT_DEFAULTS.duck,
                    part: second.id,
                    by: first.id,
                    ...ducked,
                    amount_db: amount,
                  }),
              },
            ];
      default:
        return [];
    }
  });
  return [...ways, ...phaseWays(meeting), ...tuningWays(meeting)];
}

function phaseWays({ judged, second }: Meeting): Way[] {
  const { sum_db, inverted_db, shift_s, shifted_db } = judged.together;
  const ways: Way[] = [];
  if (shifted_db - sum_db >= GAINS_DB && Math.abs(shift_s) >= 0.0005) {
    const later = shift_s > 0 ? "later" : "earlier";
    ways.push({
      key: "shift",
      words: `${second.name} ${formatValue(Math.abs(shift_s), "s")} ${later}`,
      figure: `${formatValue(shifted_db - sum_db, "dB")} lows together`,
      change: (now) =>
        changed(now, second.id, (part) => ({
          ...part,
          offset_s: Math.max(-0.5, Math.min(0.5, part.offset_s + shift_s)),
        })),
    });
  }
  if (inverted_db - sum_db >= GAINS_DB)
    ways.push({
      key: "invert",
      words: `Invert the polarity of ${second.name}`,
      figure: `${formatValue(inverted_db - sum_db, "dB")} lows together`,
      change: (now) => changed(now, second.id, (part) => ({ ...part, invert: !part.invert })),
    });
  return ways;
}

function tuningWays({ judged, second, ownNote }: Meeting): Way[] {
  const { tuning } = judged;
  if (!tuning || ownNote === null || second.plays.kind !== "sound") return [];
  const by = tuning.semitones;
  return [
    {
      key: "tune",
      words: `Tune ${second.name} ${formatValue(by, "st")}, to an octave or fifth`,
      figure: `${formatValue(tuning.second_hz, "Hz")} → ${formatValue(tuning.to_hz, "Hz")}`,
      change: (now) =>
        changed(now, second.id, (part) => ({
          ...part,
          hits: part.hits.map((hit) => ({
            ...hit,
            notes: (hit.notes.length > 0 ? hit.notes : [ownNote]).map((note) =>
              Math.max(0, Math.min(127, note + by)),
            ),
          })),
        })),
    },
  ];
}
