import { Play } from "lucide-react";
import { useState } from "react";
import { api, errorText, resultOf, type Sound, type SoundItem } from "../../api";
import { play, renderHit, usePlayer } from "../../audio";
import { Thumbnail } from "../common";

/** A sound in the list: its newest sample's waveform; a press plays the sound as it is now. */
export function HeardSound({ sound }: { sound: SoundItem }) {
  const key = `sound-${sound.id}`;
  const playing = usePlayer((state) => state.key === key);
  const [state, setState] = useState<"ready" | "busy" | string>("ready");
  const listen = async () => {
    setState("busy");
    try {
      const params = { path: { sound_id: sound.id } };
      const { document } = await resultOf(api.GET("/api/sounds/{sound_id}", { params }));
      play(await renderHit(document as Sound & Record<string, unknown>), key);
      setState("ready");
    } catch (error) {
      setState(errorText(error));
    }
  };
  const failed = state !== "ready" && state !== "busy";
  return (
    <button
      type="button"
      aria-label={`Play ${sound.name}`}
      aria-busy={state === "busy"}
      title={failed ? state : "Play the sound as it is now"}
      onClick={() => void listen()}
      className={`grid h-8 w-[112px] shrink-0 place-items-center rounded-sm border hover:bg-band ${failed ? "border-bad" : playing ? "border-action" : "border-transparent"}`}
    >
      {sound.look ? (
        <Thumbnail outline={sound.look.outline} width={104} height={28} />
      ) : (
        <Play size={14} aria-hidden className="text-ink-2" />
      )}
    </button>
  );
}
