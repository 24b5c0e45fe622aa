import { useEffect, useState } from "react";
import { renderRequest, resultOf, api, ApiError, type SourceLook } from "../../api";
import { useBench } from "../../sound";

const WAIT_MS = 120;

/** The picture of a layer's source, a moment after each change. */
export function useSourceLook(layerId: string): {
  look: SourceLook | null;
  problem: string | null;
} {
  const document = useBench((state) => state.document);
  const [looked, setLooked] = useState<{
    id: string;
    look: SourceLook | null;
    problem: string | null;
  }>({
    id: layerId,
    look: null,
    problem: null,
  });
  useEffect(() => {
    if (!document) return;
    let wanted = true;
    const look = async () => {
      try {
        const body = { ...renderRequest(document, "draft"), layer: layerId };
        const answer = await resultOf(api.POST("/api/sources/look", { body }));
        if (wanted) setLooked({ id: layerId, look: answer, problem: null });
      } catch (error) {
        const reason = error instanceof ApiError ? error.message : "The source could not be shown";
        if (wanted) setLooked({ id: layerId, look: null, problem: reason });
      }
    };
    const timer = window.setTimeout(() => void look(), WAIT_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [document, layerId]);
  return looked.id === layerId ? looked : { look: null, problem: null };
}
