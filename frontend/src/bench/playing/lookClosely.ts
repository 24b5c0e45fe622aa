import { renderRequest, resultOf, api, ApiError, type Sound } from "../../api";
import { useBench } from "../../sound";

const PAUSE_MS = 300;
let timer: number | undefined;
// A tap and a long hold take longer to render than all else; they are asked for where they show.
let holdsShown = false;

/** From now on tap and hold are looked at too, at once for what is shown; until it is let go. */
export function showHolds(): () => void {
  holdsShown = true;
  const { shown } = useBench.getState();
  if (shown) lookClosely(shown);
  return () => {
    holdsShown = false;
  };
}

/** The closer look at a sound, a moment after it was heard and only if nothing newer came. */
export function lookClosely(document: Sound): void {
  window.clearTimeout(timer);
  timer = window.setTimeout(() => void look(document), PAUSE_MS);
}

async function look(document: Sound): Promise<void> {
  if (useBench.getState().document !== document) return;
  try {
    const body = { ...renderRequest(document), holds: holdsShown };
    const details = await resultOf(api.POST("/api/judging/details", { body }));
    if (useBench.getState().document === document) useBench.setState({ details });
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    // The audition says what is wrong; the picture keeps what it showed.
  }
}
