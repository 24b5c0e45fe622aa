import { Plus, X } from "lucide-react";
import { useDeclarations } from "../../api";
import {
  destinationName,
  edit,
  freshId,
  sendDestinations,
  sendsOf,
  useBench,
  withSend,
  withoutSend,
} from "../../sound";
import { PartFields, Section } from "../parts";

interface Props {
  /** Id of the layer, processor, branch or bus that is sent from, and what it is called. */
  source: string;
  name: string;
}

const MOST_SENDS = 32;

/** Where something is sent besides its own way, each with a level of its own. */
export function SendList({ source, name }: Props) {
  const sound = useBench((state) => state.document);
  const declarations = useDeclarations().data;
  if (!sound || !declarations) return null;
  const sends = sendsOf(sound, source);
  const places = sendDestinations(sound, source);
  const add = (to: string) =>
    edit(`${name}: sent to ${destinationName(sound, to)}`, (now) => ({
      ...now,
      sends: [...now.sends, { id: freshId(now, "send"), source, to, on: true, level_db: -6 }],
    }));
  return (
    <Section title="Sends" aside={sends.length === 0 ? "none" : String(sends.length)}>
      <ul aria-label={`Sends of ${name}`} className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
        {sends.map((send) => {
          const called = `${name} to ${destinationName(sound, send.to)}`;
          const offered = places.some(({ id }) => id === send.to)
            ? places
            : [{ id: send.to, name: destinationName(sound, send.to) }, ...places];
          return (
            <li key={send.id} className="rounded-control border border-line bg-sheet px-2 py-1">
              <div className="mb-1 flex items-center gap-1">
                <select
                  aria-label={`Destination of ${called}`}
                  className="h-6 min-w-0 flex-1 rounded-sm border border-line-strong bg-sheet px-1 text-[12px] font-semibold"
                  value={send.to}
                  onChange={({ target }) =>
                    edit(`${name}: sent to ${destinationName(sound, target.value)}`, (now) =>
                      withSend(now, send.id, (one) => ({ ...one, to: target.value })),
                    )
                  }
                >
                  {offered.map((one) => (
                    <option key={one.id} value={one.id}>
                      {one.name}
                    </option>
                  ))}
                </select>
                <button
                  type="button"
                  aria-label={`Remove the send of ${called}`}
                  className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
                  onClick={() =>
                    edit(`${called}: send removed`, (now) => withoutSend(now, send.id))
                  }
                >
                  <X size={12} aria-hidden />
                </button>
              </div>
              <PartFields
                owner={called}
                partId={send.id}
                declaration={declarations.send}
                part={send}
                onChange={(label, patch, how) =>
                  edit(label, (now) => withSend(now, send.id, (one) => ({ ...one, ...patch })), how)
                }
              />
            </li>
          );
        })}
      </ul>
      {places.length > 0 && sound.sends.length < MOST_SENDS && (
        <label className="mt-1 inline-flex min-h-6 items-center gap-1 text-[12px] text-action">
          <Plus size={12} aria-hidden />
          <select
            aria-label={`Send ${name} to`}
            className="h-6 rounded-sm border border-line-strong bg-sheet px-1 text-ink"
            value=""
            onChange={({ target }) => {
              if (target.value) add(target.value);
            }}
          >
            <option value="">send to…</option>
            {places.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </Section>
  );
}
