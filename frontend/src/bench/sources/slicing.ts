import type { SampleSource, Source } from "../../api";
import { noteToHz } from "../../ui";
import { withLayer, edit, swapped } from "../../sound";

/** The source that reads a sample's periods as the frames of a table, scanned once. */
export function sliced(source: SampleSource): Source {
  if (source.recording === null) return source;
  const hz = noteToHz(source.root_note + source.root_cent / 100);
  const table = {
    origin: "sliced" as const,
    recording: source.recording,
    name: source.name,
    hz: Math.min(8000, Math.max(10, Math.round(hz * 100) / 100)),
    start_s: source.start_s,
    end_s: source.end_s,
    frames: 64,
  };
  return swapped(source, "wavetable", { table, scan: "forwards", scan_s: 1 });
}

export const sliceIntoTable = (layerId: string, owner: string) =>
  edit(`${owner}: sliced into a wavetable`, (sound) =>
    withLayer(sound, layerId, (now) =>
      now.source.kind === "sample" ? { ...now, source: sliced(now.source) } : now,
    ),
  );
