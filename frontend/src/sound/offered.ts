import type { RecordingItem, SampleItem, Source } from "../api";
import { formatValue } from "../ui";
import { newSource } from "./edits";

/** A source that a layer may have instead of its own. */
export interface Offered {
  key: string;
  group: "Tones" | "Wavetables" | "Samples" | "Noises" | "Struck bodies";
  name: string;
  aside: string;
  /** The source, with what the layer's own shares with it kept. */
  put: (now: Source) => Source;
}

/** Pitch and voices stay when the source is swapped for another. */
const SHARED = [
  "follows_note",
  "fixed_hz",
  "ratio",
  "octave",
  "transpose_st",
  "fine_cent",
  "vibrato_hz",
  "vibrato_st",
  "unison",
];

export function swapped(now: Source, kind: Source["kind"], patch: object): Source {
  if (now.kind === kind) return { ...now, ...patch } as Source;
  const fresh: Record<string, unknown> = { ...newSource(kind) };
  const own: Record<string, unknown> = { ...now };
  const kept = Object.fromEntries(
    SHARED.filter((name) => name in fresh && name in own).map((name) => [name, own[name]]),
  );
  return { ...fresh, ...kept, ...patch } as Source & Record<string, unknown>;
}

const TONES = ["sine", "triangle", "sawtooth", "pulse"];
const NOISES: [string, object][] = [
  ["white", { texture: "even", colour_db: 0 }],
  ["pink", { texture: "even", colour_db: -3 }],
  ["brown", { texture: "even", colour_db: -6 }],
  ["bright", { texture: "even", colour_db: 4 }],
  ["crackle", { texture: "crackle", rate_hz: 60 }],
  ["dense crackle", { texture: "crackle", rate_hz: 1500 }],
  ["stepped", { texture: "stepped", rate_hz: 2000 }],
];
const BODIES: [string, string, object][] = [
  ["bar", "wood or metal, free at both ends", { body: "bar" }],
  ["soft bar", "felt mallet", { body: "bar", hardness: 0.35, damping: 0.9 }],
  ["plate", "glass, sheet metal", { body: "plate", modes: 40, decay_s: 1.5 }],
  ["membrane", "drum head", { body: "membrane", decay_s: 0.5, hardness: 0.5 }],
  ["tube", "open at both ends", { body: "tube", exciter: "noise", decay_s: 0.6 }],
  ["stopped tube", "odd harmonics", { body: "stopped_tube", exciter: "noise", decay_s: 0.6 }],
  ["string", "struck", { body: "string", decay_s: 2, inharmonicity: 0.0004 }],
  ["string loop", "plucked", { body: "string_loop", decay_s: 2, damping: 0.5 }],
  ["tuned set", "custom intervals", { body: "set", decay_s: 1.5 }],
];

const ofRecording = (one: RecordingItem): Offered => ({
  key: `recording-${one.digest}`,
  group: "Samples",
  name: one.name,
  aside: formatValue(one.length_s, "s"),
  put: (now) => swapped(now, "sample", samplePatch(one.digest, one.name, one.details, null)),
});

const ofSample = (one: SampleItem): Offered => ({
  key: `sample-${one.id}`,
  group: "Samples",
  name: one.name,
  aside: [one.note, formatValue(one.length_s, "s")].filter(Boolean).join(" · "),
  put: (now) =>
    swapped(now, "sample", samplePatch(one.file_digest, one.name, one.details, one.fundamental_hz)),
});

type Details = RecordingItem["details"];

/** What a file says about its note and loop is taken over; else the pitch that was measured. */
export function samplePatch(
  recording: string,
  name: string,
  details: Details,
  measuredHz: number | null,
): object {
  const exact = measuredHz === null ? 60 : 69 + 12 * Math.log2(measuredHz / 440);
  const root = Math.min(127, Math.max(0, details.root_note ?? Math.round(exact)));
  const cents =
    details.root_note == null && measuredHz !== null
      ? Math.round((exact - root) * 1000) / 10
      : details.root_cent;
  const loop =
    details.loop_start_s != null && details.loop_end_s != null
      ? {
          loop: "held",
          loop_start_s: details.loop_start_s,
          loop_end_s: details.loop_end_s,
        }
      : { loop: "off", loop_start_s: 0, loop_end_s: 0 };
  return {
    recording,
    name: name.slice(0, 120),
    start_s: 0,
    end_s: 0,
    root_note: root,
    root_cent: Math.min(100, Math.max(-100, cents)),
    ...loop,
  };
}

interface Known {
  tables: string[];
  recordings: RecordingItem[];
  samples: SampleItem[];
}

/** Everything a layer may start from, in the order of the list. */
export function offeredSources({ tables, recordings, samples }: Known): Offered[] {
  return [
    ...TONES.map((name, shape): Offered => ({
      key: `tone-${name}`,
      group: "Tones",
      name,
      aside: "",
      put: (now) => swapped(now, "tone", { cycle: "shape", shape }),
    })),
    ...tables.map((name): Offered => ({
      key: `table-${name}`,
      group: "Wavetables",
      name: name.replace(/-/g, " "),
      aside: "",
      put: (now) => swapped(now, "wavetable", { table: { origin: "stock", name } }),
    })),
    ...BODIES.map(([name, aside, patch]): Offered => ({
      key: `body-${name}`,
      group: "Struck bodies",
      name,
      aside,
      put: (now) => swapped(now, "struck", { ...patch, changes: [] }),
    })),
    ...NOISES.map(([name, patch]): Offered => ({
      key: `noise-${name}`,
      group: "Noises",
      name,
      aside: "",
      put: (now) => swapped(now, "noise", patch),
    })),
    ...recordings.map(ofRecording),
    ...samples.map(ofSample),
  ];
}

/** Those whose name, group or aside holds every word. */
export function narrowed(offered: Offered[], typed: string): Offered[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return offered.filter(({ name, group, aside }) => {
    const text = `${name} ${group} ${aside}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
