import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, resultOf, type SoundItem } from "../../api";

/**
 * Length and waveform of a sound for a row of a list: of its newest sample, else of its own hit,
 * which is rendered once the row comes into view.
 */
export function useSoundLook(sound: SoundItem) {
  const row = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watched = row.current;
    if (!watched) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some(({ isIntersecting }) => isIntersecting)) {
        setSeen(true);
        observer.disconnect();
      }
    });
    observer.observe(watched);
    return () => observer.disconnect();
  }, []);
  const rendered = useQuery({
    queryKey: ["sound look", sound.id, sound.changed],
    enabled: seen && !sound.look,
    staleTime: Infinity,
    // A sound that cannot be rendered, say with a recording that is gone, has no waveform.
    retry: false,
    queryFn: () =>
      resultOf(
        api.GET("/api/sounds/{sound_id}/look", { params: { path: { sound_id: sound.id } } }),
      ),
  });
  return { row, look: sound.look ?? rendered.data };
}
