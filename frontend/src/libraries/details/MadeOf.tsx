import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, resultOf } from "../../api";

interface MadePart {
  part: string;
  name: string;
  sound?: number;
  revision?: number | null;
  samples?: { name: string }[];
}

/** Of a mix that was kept: the try-out, and what each of its parts played. */
export function MadeOf({ sampleId }: { sampleId: number }) {
  const mix = useQuery({
    queryKey: ["samples", "mix", sampleId],
    queryFn: () =>
      resultOf(
        api.GET("/api/samples/{sample_id}/mix", { params: { path: { sample_id: sampleId } } }),
      ),
  });
  if (!mix.data || mix.data.tryout_id === null) return null;
  const parts = mix.data.parts as unknown as MadePart[];
  return (
    <details className="mt-2.5 text-[12.5px]">
      <summary className="cursor-pointer">
        Mix of{" "}
        <Link to={`/tryout/${mix.data.tryout_id}`} className="font-medium text-action underline">
          {mix.data.tryout_name}
        </Link>{" "}
        <span className="text-ink-2">{parts.length} parts</span>
      </summary>
      <ul className="pl-4">
        {parts.map((one) => (
          <li key={one.part}>
            {one.name}
            <span className="text-ink-2">
              {one.revision ? `, revision ${one.revision}` : ""}
              {one.samples ? `, ${one.samples.map(({ name }) => name).join(", ")}` : ""}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
