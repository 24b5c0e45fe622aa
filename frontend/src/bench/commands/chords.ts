/** Keys with what is held beside them: "Ctrl+Shift+z", "Shift+Digit1", "?", "+". */
export type Chord = string;

const isCode = (key: string) => /^(Key|Digit|Space)/.test(key);

function partsOf(chord: Chord): { held: string[]; key: string } {
  // The plus sign is a key as well as what joins keys.
  if (chord === "+") return { held: [], key: "+" };
  const parts = chord.split("+");
  return { held: parts.slice(0, -1), key: parts.at(-1) ?? "" };
}

/** Whether a key that went down is a chord. Ctrl stands for Cmd as well. */
export function matches(event: KeyboardEvent, chord: Chord): boolean {
  const { held, key } = partsOf(chord);
  if (event.altKey || held.includes("Ctrl") !== (event.ctrlKey || event.metaKey)) return false;
  // Signs need Shift on some keyboards; all other keys are others with it.
  const sign = key.length === 1 && !/[a-z0-9]/i.test(key);
  if (!sign && held.includes("Shift") !== event.shiftKey) return false;
  return isCode(key) ? event.code === key : event.key.toLowerCase() === key.toLowerCase();
}

/** As it is written for people: "Ctrl Shift Z". */
export function chordText(chord: Chord): string {
  const { held, key } = partsOf(chord);
  const name = key.replace(/^(Key|Digit)/, "");
  return [...held, name.length === 1 ? name.toUpperCase().replace("-", "−") : name].join(" ");
}
