import { useState } from "react";
import { renderRequest, resultOf, api, ApiError, type RepeatsAnswer, type Sound } from "../../api";
import { formatValue } from "../../ui";
import { useBench } from "../../sound";

interface Compared {
  document: Sound;
  words: string;
}

function wordsOf(compared: RepeatsAnswer): string {
  if (compared.identical) return `${compared.hits} hits: all the same`;
  const peak = formatValue(compared.peak_spread_db, "dB").replace("+", "");
  const loudness = compared.loudness_spread_db.toFixed(1);
  const differ = `${compared.hits} hits differ: peak ${peak}, loudness ${loudness} LU`;
  if (compared.low_spread_db <= 6) return differ;
  return `${differ}. The low end varies by ${compared.low_spread_db.toFixed(1)} dB`;
}

/** Render eight hits in a row and say how far they differ. */
export function Repeats() {
  const document = useBench((state) => state.document);
  const [compared, setCompared] = useState<Compared | null>(null);
  const [busy, setBusy] = useState(false);
  const compare = async () => {
    if (!document) return;
    setBusy(true);
    try {
      const answer = await resultOf(
        api.POST("/api/judging/repeats", { body: renderRequest(document) }),
      );
      setCompared({ document, words: wordsOf(answer) });
    } catch (error) {
      const words = error instanceof ApiError ? error.message : "The hits could not be compared";
      setCompared({ document, words });
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <button
        type="button"
        disabled={busy}
        title="Render eight hits and measure how far they differ"
        className="min-h-6 rounded-sm px-1.5 text-[11.5px] text-action hover:bg-band"
        onClick={() => void compare()}
      >
        Compare 8 hits
      </button>
      {compared?.document === document && (
        <p className="order-last w-full border-b border-line pb-1 text-[11.5px]" role="status">
          {compared?.words}
        </p>
      )}
    </>
  );
}
