import {
  startLoop,
  stopLoop,
  useContext,
  useLoop,
  useTryOut,
  withSoundInContext,
  type Heard,
} from "../../loop";
import { useBench } from "../../sound";

/** Whether Play means the try-out. */
export const inContext = () => useContext.getState().on && useTryOut.getState().document !== null;

/** The try-out as it is heard now, with the draft of the Bench in it. */
export function heardInContext(): Heard | null {
  const { document: tryout, tried } = useTryOut.getState();
  const { document: sound, opened } = useBench.getState();
  const { othersDb, inPlaceOf } = useContext.getState();
  const shown = tried?.document ?? tryout;
  if (!shown || !sound || !opened) return null;
  const how = { soundId: opened.id, name: sound.name, othersDb, inPlaceOf };
  return {
    document: { ...withSoundInContext(shown, how), loop: true },
    drafts: new Map([[opened.id, sound]]),
  };
}

/** Play the try-out, or stop it. */
export function playInContext(): void {
  if (useLoop.getState().playing) return stopLoop();
  const heard = heardInContext();
  if (heard) void startLoop(heard);
}

/** In context and back: the loop begins at once, and the sound alone is heard again after it. */
export function toggleContext(): void {
  const { on } = useContext.getState();
  useContext.setState({ on: !on });
  if (on) stopLoop();
  else playInContext();
}
