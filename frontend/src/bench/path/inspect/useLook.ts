import { useEffect } from "react";
import { create } from "zustand";
import {
  renderRequest,
  resultOf,
  api,
  ApiError,
  type ProcessorLook,
  type Sound,
} from "../../../api";
import { useBench } from "../../../sound";

interface Looked {
  id: string;
  document: Sound;
  look: ProcessorLook;
}

/** The last closer look at a processor: what the inspector and the ruler draw. */
export const useLooked = create<{ looked: Looked | null }>(() => ({ looked: null }));

const WAIT_MS = 220;

/** Keeps the look at a processor current, a moment after each change. */
export function useLook(id: string): ProcessorLook | null {
  const document = useBench((state) => state.document);
  const moving = useBench((state) => state.gesture !== null);
  const looked = useLooked((state) => state.looked);
  useEffect(() => {
    if (!document || moving) return;
    let wanted = true;
    const look = async () => {
      try {
        const body = { ...renderRequest(document), processor: id };
        const answer = await resultOf(api.POST("/api/judging/processor", { body }));
        if (wanted) useLooked.setState({ looked: { id, document, look: answer } });
      } catch (error) {
        // A processor of a muted layer is not on the way to the output.
        if (!(error instanceof ApiError)) throw error;
        if (wanted) useLooked.setState({ looked: null });
      }
    };
    const timer = window.setTimeout(() => void look(), WAIT_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [document, moving, id]);
  useEffect(() => () => useLooked.setState({ looked: null }), [id]);
  return looked?.id === id ? looked.look : null;
}
