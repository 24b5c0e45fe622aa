import { useContext, useTryOut, withSoundInContext, type Heard } from "../../loop";
import { useBench } from "../../sound";
import type { Sound, TryOut } from "../../api";

interface Given {
  tryout: TryOut;
  soundId: number;
  name: string;
  othersDb: number;
  inPlaceOf: string | null;
}

let given: Given | null = null;
let document: TryOut | null = null;
let heard: Heard | null = null;

function same(next: Given): boolean {
  const before = given;
  return (
    before !== null &&
    (Object.keys(next) as (keyof Given)[]).every((key) => before[key] === next[key])
  );
}

/** The same for the same: plans are asked for once a document, so it stays while only the sound is
 * edited. */
function remembered(next: Given, sound: Sound): Heard {
  if (!document || !same(next)) {
    const { tryout, ...how } = next;
    document = { ...withSoundInContext(tryout, how), loop: true };
    given = next;
    heard = null;
  }
  if (heard?.drafts.get(next.soundId) !== sound)
    heard = { document, drafts: new Map([[next.soundId, sound]]) };
  return heard;
}

/** The try-out as it is heard now, with the draft of the Bench in it; null where there is none. */
export function heardInContext(): Heard | null {
  const { document: own, tried } = useTryOut.getState();
  const { document: sound, opened } = useBench.getState();
  const { othersDb, inPlaceOf } = useContext.getState();
  const tryout = tried?.document ?? own;
  if (!tryout || !sound || !opened) return null;
  return remembered({ tryout, soundId: opened.id, name: sound.name, othersDb, inPlaceOf }, sound);
}
