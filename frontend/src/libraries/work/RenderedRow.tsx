import { Play } from "lucide-react";
import type { RerenderRow } from "../../api";
import { playUrl, usePlayer } from "../../audio";
import { levelText } from "../common";
import { likenessWords, noteChange } from "./rerenderWords";

/** How many columns a row has. */
export const COLUMNS = 6;

interface Props {
  jobId: number;
  row: RerenderRow;
  chosen: boolean;
  onChoose: () => void;
  /** What hindered it from taking its place. */
  stayed: string | undefined;
}

/** The cells of one sample: as it is and as it would be, by ear and in figures. */
export function RenderedRow({ jobId, row, chosen, onChoose, stayed }: Props) {
  const { name, position, sample_id, rendered, words } = row;
  if (rendered === null || stayed !== undefined)
    return (
      <>
        <td />
        <td className="truncate px-2" title={name}>
          {name}
        </td>
        <td colSpan={COLUMNS - 2} className="px-2 text-ink-2">
          {stayed ?? words}
        </td>
      </>
    );
  const { before, after, revision, same } = rendered;
  const now = `/api/samples/${sample_id}/file?sample_rate=48000&sample_format=float32&version=-${jobId}`;
  return (
    <>
      <td className="text-center">
        {!same && (
          <input
            type="checkbox"
            aria-label={`Replace ${name}`}
            checked={chosen}
            onChange={onChoose}
            className="size-4 accent-action"
          />
        )}
      </td>
      <td className="truncate px-2" title={name}>
        {name}
      </td>
      <td className="px-1 whitespace-nowrap">
        <PlayButton label="Now" name={name} url={now} id={`now-${jobId}-${position}`} />
        <PlayButton
          label="New"
          name={name}
          url={`/api/jobs/${jobId}/renders/${position}.wav`}
          id={`new-${jobId}-${position}`}
        />
      </td>
      <td className="figure px-2">{revision}</td>
      <td className="figure px-2 whitespace-nowrap">
        {levelText(before.loudness_lufs, "").trim()} → {levelText(after.loudness_lufs, "").trim()}
        <span className="ml-3">{noteChange(before, after)}</span>
      </td>
      <td className="truncate px-2">{likenessWords(rendered)}</td>
    </>
  );
}

interface PlayProps {
  label: "Now" | "New";
  name: string;
  url: string;
  id: string;
}

function PlayButton({ label, name, url, id }: PlayProps) {
  const plays = usePlayer((state) => state.key === id);
  const failed = usePlayer((state) => state.failedKey === id);
  return (
    <button
      type="button"
      data-side={label}
      aria-label={`Play ${name} as it ${label === "Now" ? "is now" : "would be"}`}
      title={failed ? "This audio cannot be loaded" : undefined}
      onClick={() => void playUrl(url, id)}
      className={`inline-flex min-h-7 items-center gap-1 rounded-control px-1.5 hover:bg-band ${plays ? "font-semibold text-action" : ""} ${failed ? "text-bad line-through" : ""}`}
    >
      <Play size={12} aria-hidden />
      {label}
    </button>
  );
}
