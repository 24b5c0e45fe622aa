import { useQuery, useQueryClient } from "@tanstack/react-query";
import { succeeded, resultOf, api } from "../../api";
import { FactRow } from "../../ui";

/** Links that still open something, to be ended before their time. */
export function LinkList({ libraryId }: { libraryId: number }) {
  const queries = useQueryClient();
  const params = { path: { library_id: libraryId } };
  const links = useQuery({
    queryKey: ["releases", libraryId, "links"],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/links", { params }))).links,
  });
  const open = links.data?.filter(
    ({ revoked, expires }) => !revoked && new Date(expires) > new Date(),
  );
  if (!open || open.length === 0) return null;
  const end = async (link_id: number) => {
    await succeeded(api.DELETE("/api/links/{link_id}", { params: { path: { link_id } } }));
    await queries.invalidateQueries({ queryKey: ["releases", libraryId, "links"] });
  };
  return (
    <section className="mt-6 max-w-[860px]">
      <h3 className="mb-1 font-title text-[15px] font-semibold">Open links</h3>
      <ul>
        {open.map((link) => (
          <FactRow
            key={link.id}
            title={`to a ${link.release_id !== null ? "release" : link.sound_id !== null ? "sound" : "sample"}${link.note && ` · ${link.note}`}`}
            facts={`until ${new Date(link.expires).toLocaleDateString()}`}
            verb="Revoke"
            onDo={() => void end(link.id)}
          />
        ))}
      </ul>
    </section>
  );
}
