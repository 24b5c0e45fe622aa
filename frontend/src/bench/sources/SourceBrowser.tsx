import { useQuery } from "@tanstack/react-query";
import { Library } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { resultOf, api, EMPTY_QUERY, type Layer, type SampleItem, type Sound } from "../../api";
import {
  describeLayer,
  withLayer,
  edit,
  useBench,
  narrowed,
  type Offered,
  offeredSources,
} from "../../sound";

const MOST_SHOWN = 200;

/** All that a layer may start from; empty until it is asked for. */
function useOffered(wanted: boolean): Offered[] {
  const tables = useQuery({
    queryKey: ["wavetables"],
    enabled: wanted,
    staleTime: Infinity,
    queryFn: async () => (await resultOf(api.GET("/api/sources/wavetables"))).wavetables,
  });
  const recordings = useQuery({
    queryKey: ["recordings"],
    enabled: wanted,
    queryFn: async () => (await resultOf(api.GET("/api/recordings"))).recordings,
  });
  const samples = useQuery({
    queryKey: ["samples", "offered"],
    enabled: wanted,
    queryFn: async (): Promise<SampleItem[]> => {
      const query = { ...EMPTY_QUERY, sort: "name" as const };
      const body = { query, offset: 0, limit: 200 };
      return (await resultOf(api.POST("/api/samples/search", { body }))).samples;
    },
  });
  return offeredSources({
    tables: tables.data?.map(({ name }) => name) ?? [],
    recordings: recordings.data ?? [],
    samples: samples.data ?? [],
  });
}

/** What the layer starts from, and a list in which the arrow keys swap it and play it at once. */
export function SourceBrowser({ layer }: { layer: Layer }) {
  // A layer without a sample is silent: choosing one comes first.
  const empty = layer.source.kind === "sample" && !layer.source.recording;
  const [open, setOpen] = useState(empty);
  return (
    <div className="mt-2">
      <button
        type="button"
        aria-expanded={open}
        title="Arrow keys try a source; Escape restores this one"
        className="flex min-h-8 w-full items-center gap-2 rounded-control border border-line-strong bg-sheet px-2 text-left hover:bg-band"
        onClick={() => setOpen(!open)}
      >
        <Library size={14} aria-hidden className="shrink-0 text-action" />
        <span className="min-w-0 flex-1 truncate">{describeLayer(layer)}</span>
        <span className="text-[12px] text-action">{open ? "Close" : "Browse"}</span>
      </button>
      {open && <SourceList layer={layer} onDone={() => setOpen(false)} />}
    </div>
  );
}

/** Puts the sound as it was before browsing, as if nothing had been looked at. */
function putBack(before: Sound, steps: number): void {
  useBench.setState((state) => ({
    document: before,
    past: state.past.slice(0, steps),
    future: [],
    gesture: null,
    save: { kind: "changed" },
  }));
}

function SourceList({ layer, onDone }: { layer: Layer; onDone: () => void }) {
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState<string | null>(null);
  const offered = narrowed(useOffered(true), typed).slice(0, MOST_SHOWN);
  const list = useRef<HTMLUListElement>(null);
  const began = useRef<{ document: Sound; steps: number; listen: boolean; gesture: string } | null>(
    null,
  );
  useEffect(() => {
    const { document, past, listen } = useBench.getState();
    if (document)
      began.current = {
        document,
        steps: past.length,
        listen,
        gesture: `browse@${performance.now()}`,
      };
    // What is looked at is heard, whether changes are listened to or not.
    useBench.setState({ listen: true });
    return () => {
      if (began.current) useBench.setState({ listen: began.current.listen });
    };
  }, []);
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  }, [at]);

  const swap = (one: Offered | undefined, moving: boolean) => {
    if (!one || !began.current) return;
    setAt(one.key);
    // Always from what was there before: what moves the old source is lost only if another kind stays.
    const { document } = began.current;
    edit(
      `${layer.name}: starts from ${one.name}`,
      () => withLayer(document, layer.id, (now) => ({ ...now, source: one.put(now.source) })),
      { gesture: began.current.gesture, moving },
    );
  };
  const settle = () => {
    const chosen = offered.find(({ key }) => key === at);
    if (chosen) swap(chosen, false);
    onDone();
  };
  const step = (by: number) => {
    const now = offered.findIndex(({ key }) => key === at);
    swap(offered[Math.min(offered.length - 1, Math.max(0, now + by))], true);
  };
  const keys = (event: React.KeyboardEvent) => {
    const act: Record<string, () => void> = {
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      PageDown: () => step(10),
      PageUp: () => step(-10),
      Enter: settle,
      Escape: () => {
        if (began.current && at !== null) putBack(began.current.document, began.current.steps);
        onDone();
      },
    };
    const wanted = act[event.key];
    event.stopPropagation();
    if (!wanted) return;
    event.preventDefault();
    wanted();
  };
  return (
    <div
      className="mt-1 rounded-control border border-line-strong bg-sheet"
      onKeyDown={keys}
      onBlur={(event) => {
        // Left otherwise, what was chosen last stays.
        if (!event.currentTarget.contains(event.relatedTarget)) {
          const chosen = offered.find(({ key }) => key === at);
          if (chosen) swap(chosen, false);
        }
      }}
    >
      <input
        autoFocus
        aria-label="Find a source"
        placeholder="Find: body, noise, a sample's name…"
        className="h-7 w-full border-b border-line bg-transparent px-2 text-[12px] outline-none"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
      />
      <ul ref={list} role="listbox" aria-label="Sources" className="max-h-[216px] overflow-y-auto">
        {offered.map((one, n) => (
          <li key={one.key} role="none">
            {offered[n - 1]?.group !== one.group && (
              <div className="px-2 pt-1 text-[11px] text-ink-2">{one.group}</div>
            )}
            <button
              type="button"
              role="option"
              tabIndex={-1}
              aria-selected={one.key === at}
              className={`flex min-h-6 w-full items-center justify-between gap-2 px-2 text-left ${one.key === at ? "bg-ink text-sheet" : "hover:bg-band"}`}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => swap(one, true)}
              onDoubleClick={settle}
            >
              <span className="min-w-0 truncate">{one.name}</span>
              <span className="shrink-0 text-[11px] opacity-80">{one.aside}</span>
            </button>
          </li>
        ))}
        {offered.length === 0 && (
          <li role="none" className="px-2 py-2 text-ink-2">
            No match. Drop a file to import one.
          </li>
        )}
      </ul>
      <p className="border-t border-line px-2 py-1 text-[11px] text-ink-2">
        ↑ ↓ try and play · Enter keeps · Esc restores
      </p>
    </div>
  );
}
