import { useQuery } from "@tanstack/react-query";
import { resultOf, api, type SampleItem } from "../../api";
import { Thumbnail } from "../common";

const WIDTH = 258;
const HEIGHT = 72;

interface Props {
  sample: SampleItem;
  atS: number | null;
  onPoint: (atS: number) => void;
}

export const useComments = (sampleId: number) =>
  useQuery({
    queryKey: ["samples", "comments", sampleId],
    queryFn: async () => {
      const params = { path: { sample_id: sampleId } };
      return (await resultOf(api.GET("/api/samples/{sample_id}/comments", { params }))).comments;
    },
  });

/** The waveform with comments at their times; a press points at a time to enter a comment. */
export function HeardWave({ sample, atS, onPoint }: Props) {
  const comments = useComments(sample.id).data ?? [];
  const x = (seconds: number) => (seconds / sample.length_s) * WIDTH;
  return (
    <div className="relative my-2.5 rounded-control border border-line bg-sheet p-1.5">
      <button
        type="button"
        aria-label="Pick a time in the sample"
        className="block cursor-crosshair"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const share = box.width > 0 ? (event.clientX - box.left) / box.width : 0;
          onPoint(Math.round(Math.min(1, Math.max(0, share)) * sample.length_s * 1000) / 1000);
        }}
      >
        <Thumbnail outline={sample.outline} width={WIDTH} height={HEIGHT} />
      </button>
      <svg
        width={WIDTH}
        height={HEIGHT}
        className="pointer-events-none absolute top-1.5 left-1.5"
        aria-hidden
      >
        {comments.map(
          ({ id, at_s }) =>
            at_s !== null && (
              <path key={id} d={`M${x(at_s)} 0l4 6h-8z`} fill="var(--warn)">
                <title>comment</title>
              </path>
            ),
        )}
        {atS !== null && (
          <line x1={x(atS)} x2={x(atS)} y1={0} y2={HEIGHT} stroke="var(--warn)" strokeWidth={1.5} />
        )}
      </svg>
    </div>
  );
}
