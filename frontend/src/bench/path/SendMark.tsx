import { Send } from "lucide-react";
import { destinationName, sendsOf, useBench } from "../../sound";
import { formatValue } from "../../ui";

/** On a card: that it is sent to other places too, and where to. */
export function SendMark({ source }: { source: string }) {
  const sound = useBench((state) => state.document);
  const sends = sound ? sendsOf(sound, source).filter(({ on }) => on) : [];
  if (!sound || sends.length === 0) return null;
  const words = sends
    .map(({ to, level_db }) => `${destinationName(sound, to)} at ${formatValue(level_db, "dB")}`)
    .join(", ");
  return (
    <span
      className="inline-flex items-center gap-0.5 text-[10.5px] text-action"
      title={`Sent to ${words}`}
    >
      <Send size={10} aria-hidden />
      <span className="sr-only">Sent to {words}</span>
      <span aria-hidden>{sends.length}</span>
    </span>
  );
}
