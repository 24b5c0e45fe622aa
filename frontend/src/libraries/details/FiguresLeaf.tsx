import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { resultOf, api, type SampleItem } from "../../api";
import { EditsSection } from "./EditsSection";
import { hzText, lengthText, levelText, noteText } from "../common";

/** What was measured, and how the sample was made in words and units. */
export function FiguresLeaf({ sample, editable }: { sample: SampleItem; editable: boolean }) {
  const [open, setOpen] = useState(false);
  const recipe = useQuery({
    queryKey: ["recipe", sample.id, sample.version],
    enabled: open,
    queryFn: async () => {
      const params = { path: { sample_id: sample.id } };
      return (await resultOf(api.GET("/api/samples/{sample_id}/recipe", { params }))).text;
    },
  });
  const { pitch_confidence: sure, several_notes: several } = sample;
  const edits = Object.keys(sample.edits).length > 0;
  const all: [string, string | null][] = [
    ["Length", lengthText(sample.length_s)],
    ["Peak", levelText(sample.peak_db, "dBFS")],
    ["True peak", levelText(sample.true_peak_db, "dBTP")],
    ["Loudness", levelText(sample.loudness_lufs, "LUFS")],
    ["Note", several ? "several notes" : noteText(sample)],
    ["Note confidence", sample.note && sure !== null ? `${(100 * sure).toFixed(0)} %` : null],
    ["Decay to −60 dB", lengthText(sample.decay_s)],
    ["Brightness", hzText(sample.brightness_hz)],
    ["Noisiness", `${(100 * sample.noisiness).toFixed(0)} %`],
    ["Below 120 Hz", levelText(sample.low_share_db, "dB")],
    ["Width", sample.channels === 1 ? "mono" : "stereo"],
    ["Rate", `${sample.sample_rate / 1000} kHz`],
    ["Made", new Date(sample.created).toLocaleString()],
    ["By", sample.created_by],
    ["Heard", edits ? "edited" : "as recorded"],
    ["Engine", sample.engine_version?.toString() ?? null],
    ["CPU", sample.cpu_family],
  ];
  const rows = all.filter(([, value]) => value !== null);
  return (
    <>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-2">{name}</dt>
            <dd className="figure text-right">{value}</dd>
          </div>
        ))}
      </dl>
      <EditsSection key={sample.id} sample={sample} editable={editable} />
      {sample.sound_id !== null && (
        <details className="mt-3" onToggle={(event) => setOpen(event.currentTarget.open)}>
          <summary className="min-h-6 cursor-pointer font-medium">How it was made</summary>
          <pre className="mt-1 text-[11.5px] whitespace-pre-wrap">{recipe.data}</pre>
        </details>
      )}
    </>
  );
}
