import { startLoop, stopLoop, useContext, useLoop, useTryOut } from "../../loop";
import { heardInContext } from "./heard";

/** Whether Play means the try-out. */
export const inContext = () => useContext.getState().on && useTryOut.getState().document !== null;

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
