import { Play } from "lucide-react";
import type { SoundItem } from "../../api";
import { usePlayer } from "../../audio";
import { Thumbnail } from "../common";

interface Props {
  sound: SoundItem;
  look: { outline: string } | null | undefined;
  busy: boolean;
  /** Why it cannot be played. */
  problem: string | null;
  onPlay: () => void;
}

/** A sound's waveform in the list; a press plays the sound as it is now. */
export function HeardSound({ sound, look, busy, problem, onPlay }: Props) {
  const playing = usePlayer((state) => state.key === `sound-${sound.id}`);
  return (
    <button
      type="button"
      aria-label={`Play ${sound.name}`}
      aria-busy={busy}
      title={problem ?? "Play the sound as it is now"}
      onClick={onPlay}
      className={`grid h-8 w-[112px] shrink-0 place-items-center rounded-sm border hover:bg-band ${problem ? "border-bad" : playing ? "border-action" : "border-transparent"}`}
    >
      {look ? (
        <Thumbnail outline={look.outline} width={104} height={28} />
      ) : (
        <Play size={14} aria-hidden className="text-ink-2" />
      )}
    </button>
  );
}
