import { useQuery, useQueryClient } from "@tanstack/react-query";
import { succeeded, resultOf, api, mayDo, type LibraryItem } from "../../api";
import { Button } from "../../ui";

/** Sounds that lie in the bin, above its samples; nothing where there are none. */
export function BinnedSounds({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const sounds = useQuery({
    queryKey: ["sounds", "binned"],
    queryFn: async () =>
      (await resultOf(api.GET("/api/sounds", { params: { query: { binned: true } } }))).sounds,
  });
  const own = sounds.data?.filter(({ library_id }) => library_id === library.id) ?? [];
  if (own.length === 0) return null;
  const restore = async (sound_id: number) => {
    const params = { path: { sound_id } };
    await succeeded(api.PUT("/api/sounds/{sound_id}/bin", { params, body: { binned: false } }));
    await queries.invalidateQueries({ queryKey: ["sounds"] });
  };
  return (
    <ul aria-label="Sounds in the bin" className="max-h-40 shrink-0 overflow-y-auto">
      {own.map((sound) => (
        <li key={sound.id} className="flex items-center gap-3 border-b border-line px-4 py-1">
          <span className="min-w-0 flex-1 truncate">
            <b>{sound.name}</b> <span className="text-ink-2">a sound</span>
          </span>
          {mayDo(library, "sound.edit") && (
            <Button onClick={() => void restore(sound.id)}>Restore from bin</Button>
          )}
        </li>
      ))}
    </ul>
  );
}
