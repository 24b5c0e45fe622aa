import { asked } from "../../api/asked";
import { answered, api, ApiError } from "../../api/client";
import type { Sound } from "../../api/types";
import { useBench } from "../store";

const PAUSE_MS = 300;
let timer: number | undefined;

/** The closer look at a sound, a moment after it was heard and only if nothing newer came. */
export function lookClosely(document: Sound): void {
  window.clearTimeout(timer);
  timer = window.setTimeout(() => void look(document), PAUSE_MS);
}

async function look(document: Sound): Promise<void> {
  if (useBench.getState().document !== document) return;
  try {
    const details = await answered(api.POST("/api/judging/details", { body: asked(document) }));
    if (useBench.getState().document === document) useBench.setState({ details });
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    // The audition says what is wrong; the picture keeps what it showed.
  }
}
