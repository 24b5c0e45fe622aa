import { useQuery, useQueryClient } from "@tanstack/react-query";
import { succeeded, resultOf, api } from "../../api";
import { FactRow } from "../../ui";

/**
 * Links that still open something, to be ended before their time; and those that ended because
 * their maker left or the library became private, which an owner may keep.
 */
export function LinkList({ libraryId, mayKeep }: { libraryId: number; mayKeep: boolean }) {
  const queries = useQueryClient();
  const params = { path: { library_id: libraryId } };
  const links = useQuery({
    queryKey: ["releases", libraryId, "links"],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/links", { params }))).links,
  });
  const shown = links.data?.filter(
    ({ revoked, ended_because, expires }) =>
      (!revoked || ended_because) && new Date(expires) > new Date(),
  );
  if (!shown || shown.length === 0) return null;
  const refresh = () => queries.invalidateQueries({ queryKey: ["releases", libraryId, "links"] });
  const end = async (link_id: number) => {
    await succeeded(api.DELETE("/api/links/{link_id}", { params: { path: { link_id } } }));
    await refresh();
  };
  const keep = async (link_id: number) => {
    await succeeded(api.POST("/api/links/{link_id}/keep", { params: { path: { link_id } } }));
    await refresh();
  };
  return (
    <section className="mt-6 max-w-[860px]">
      <h3 className="mb-1 font-title text-[15px] font-semibold">Links</h3>
      <ul>
        {shown.map((link) => (
          <FactRow
            key={link.id}
            title={`to a ${link.release_id !== null ? "release" : link.sound_id !== null ? "sound" : link.tryout_id !== null ? "try-out" : "sample"}${link.note && ` · ${link.note}`}`}
            facts={
              link.revoked
                ? `ended: ${link.ended_because}`
                : `until ${new Date(link.expires).toLocaleDateString()}`
            }
            faint={link.revoked}
            {...(link.revoked && !mayKeep ? {} : { verb: link.revoked ? "Keep open" : "Revoke" })}
            onDo={() => void (link.revoked ? keep(link.id) : end(link.id))}
          />
        ))}
      </ul>
    </section>
  );
}
