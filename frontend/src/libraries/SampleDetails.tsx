import { Download, Play } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { SampleItem } from "../api/types";
import { Button } from "../ui/Button";
import { noteName } from "../ui/notes";
import { lengthText, levelText, noteText, Thumbnail } from "./SampleRow";

const RATES = ["44100", "48000"] as const;

interface Props {
  sample: SampleItem;
  onPlay: () => void;
}

/** One sample: its figures, how it was made, and its file. */
export function SampleDetails({ sample, onPlay }: Props) {
  const [rate, setRate] = useState<(typeof RATES)[number]>("48000");
  const file = `/api/samples/${sample.id}/file?sample_rate=${rate}&sample_format=pcm24&download=true`;
  const hitNote = sample.hit?.["note"];
  const rows: [string, string][] = [
    ["Length", lengthText(sample.length_s)],
    ["Peak", levelText(sample.peak_db, "dB")],
    ["True peak", levelText(sample.true_peak_db, "dBTP")],
    ["Loudness", levelText(sample.loudness_lufs, "LUFS")],
    ["Note", noteText(sample)],
    ["Channels", sample.channels === 1 ? "mono" : "stereo"],
    ["Kept", new Date(sample.created).toLocaleString()],
    ["By", sample.created_by],
  ];
  return (
    <aside
      aria-label="Sample"
      className="w-[290px] shrink-0 overflow-y-auto border-l border-line-strong bg-panel p-4"
    >
      <h3 className="font-title text-[16px] font-semibold break-words">{sample.name}</h3>
      <div className="my-3 rounded-control border border-line bg-sheet p-1.5">
        <Thumbnail outline={sample.outline} width={244} height={72} />
      </div>
      <Button look="ink" onClick={onPlay}>
        <Play size={14} aria-hidden /> Play
      </Button>
      <dl className="mt-4 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-2">{name}</dt>
            <dd className="figure text-right">{value}</dd>
          </div>
        ))}
      </dl>
      {sample.sound_id !== null && (
        <section className="mt-4">
          <h4 className="text-[12px] font-semibold text-ink-2">Made by</h4>
          <p className="mb-2">
            Revision {sample.sound_revision}
            {typeof hitNote === "number" ? `, played at ${noteName(hitNote)}` : ""}
          </p>
          <Link
            to={`/bench/${sample.sound_id}`}
            className="inline-flex min-h-8 items-center rounded-control border border-line-strong bg-sheet px-3 font-medium hover:bg-band"
          >
            Open its sound
          </Link>
        </section>
      )}
      <section className="mt-4">
        <h4 className="mb-1 text-[12px] font-semibold text-ink-2">Download</h4>
        <div className="flex items-center gap-2">
          <select
            aria-label="Sample rate"
            value={rate}
            onChange={(event) => setRate(event.target.value === "44100" ? "44100" : "48000")}
            className="h-8 rounded-control border border-line-strong bg-sheet px-2"
          >
            {RATES.map((one) => (
              <option key={one} value={one}>
                {Number(one) / 1000} kHz
              </option>
            ))}
          </select>
          <a
            href={file}
            download
            className="inline-flex min-h-8 items-center gap-1.5 rounded-control border border-action bg-action px-3 font-medium text-action-ink"
          >
            <Download size={14} aria-hidden /> WAV, 24 bit
          </a>
        </div>
      </section>
    </aside>
  );
}
