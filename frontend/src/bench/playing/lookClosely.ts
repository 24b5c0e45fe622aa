import { renderRequest, resultOf, api, ApiError, type Sound } from "../../api";
import { useBench } from "../../sound";

// A tap and a long hold take longer to render than all else; they are asked for where they show.
let shown = false;

export const holdsShown = () => shown;

/** From now on tap and hold are looked at too, at once for what is shown; until it is let go. */
export function showHolds(): () => void {
  shown = true;
  const { shown: document } = useBench.getState();
  if (document) void look(document);
  return () => {
    shown = false;
  };
}

/** The closer look at a sound that is shown already. */
async function look(document: Sound): Promise<void> {
  try {
    const body = { ...renderRequest(document), holds: true };
    const details = await resultOf(api.POST("/api/judging/details", { body }));
    if (useBench.getState().document === document) useBench.setState({ details });
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    // The audition says what is wrong; the picture keeps what it showed.
  }
}
