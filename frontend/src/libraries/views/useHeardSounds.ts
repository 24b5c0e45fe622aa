import { useRef, useState } from "react";
import { api, errorText, resultOf, type Sound, type SoundItem } from "../../api";
import { play, renderHit } from "../../audio";

/** Plays sounds as they are now; the one that was asked for last is heard. */
export function useHeardSounds() {
  const asked = useRef(0);
  const [busyId, setBusyId] = useState<number | null>(null);
  const [failed, setFailed] = useState<{ id: number; words: string } | null>(null);
  const listen = async (sound: SoundItem) => {
    const mine = ++asked.current;
    setBusyId(sound.id);
    setFailed(null);
    try {
      const params = { path: { sound_id: sound.id } };
      const { document } = await resultOf(api.GET("/api/sounds/{sound_id}", { params }));
      if (mine !== asked.current) return;
      const audio = await renderHit(document as Sound & Record<string, unknown>);
      if (mine === asked.current) play(audio, `sound-${sound.id}`);
    } catch (error) {
      if (mine === asked.current) setFailed({ id: sound.id, words: errorText(error) });
    }
    if (mine === asked.current) setBusyId(null);
  };
  return { busyId, failed, listen: (sound: SoundItem) => void listen(sound) };
}
