import { useQuery } from "@tanstack/react-query";
import { api, resultOf } from "../api";

interface Props {
  sound: number;
  /** The chosen revision; null is the draft. */
  revision: number | null;
  /** What the draft is called where it stands among the revisions. */
  draft: string;
  onChange: (revision: number | null) => void;
}

/** Which state of a sound is used: its draft, or one of the kept revisions. */
export function RevisionSelect({ sound, revision, draft, onChange }: Props) {
  const kept = useQuery({
    queryKey: ["revision-numbers", sound],
    queryFn: async () => {
      const params = { path: { sound_id: sound } };
      const { revisions } = await resultOf(api.GET("/api/sounds/{sound_id}/revisions", { params }));
      return revisions.map(({ number, note }) => ({ number, note }));
    },
  });
  const listed = kept.data ?? [];
  // A revision that is not listed, say of a sound that is gone, stays to be seen.
  const missing = revision !== null && !listed.some(({ number }) => number === revision);
  return (
    <label className="flex min-h-7 min-w-0 items-center gap-2">
      <span>Revision</span>
      <select
        className="h-6 min-w-0 flex-1 rounded-sm border border-line-strong bg-sheet px-1"
        value={revision ?? ""}
        onChange={({ target }) => onChange(target.value === "" ? null : Number(target.value))}
      >
        <option value="">{draft}</option>
        {listed.map(({ number, note }) => (
          <option key={number} value={number}>
            {note ? `${number}: ${note}` : number}
          </option>
        ))}
        {missing && <option value={revision}>{revision}</option>}
      </select>
    </label>
  );
}
