import { TRYOUT_KINDS, type TryOut } from "../api";
import { editTryOut, useTryOut } from "../loop";
import { Fields } from "./Fields";

/** What belongs to the whole: meter, swing, seed, length. */
export function TryOutLeaf() {
  const document = useTryOut((state) => state.document);
  if (!document) return null;
  const change = (label: string, patch: Partial<TryOut>, moving: boolean) =>
    editTryOut(label, (now) => ({ ...now, ...patch }), {
      gesture: `tryout ${Object.keys(patch)[0] ?? ""}`,
      moving,
    });
  return (
    <section aria-label="The whole try-out" className="grid gap-3">
      <Fields
        declared={TRYOUT_KINDS.tryout}
        part={document}
        names={[
          "tempo_bpm",
          "length_s",
          "beats_a_bar",
          "beat_value",
          "swing",
          "swing_beats",
          "seed",
          "loop",
        ]}
        onChange={change}
      />
      <p className="text-[12px] text-ink-2">
        Type the length in beats, bars or seconds: 16 beats, 4 bars, 20 s. What is kept in beats
        follows the tempo. The seed decides chances; the same seed is the same chances.
      </p>
    </section>
  );
}
