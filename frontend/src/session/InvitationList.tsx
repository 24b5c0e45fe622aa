import { useQuery, useQueryClient } from "@tanstack/react-query";
import { succeeded, resultOf, api, useLibraries } from "../api";
import { FactRow } from "../ui";

/** Invitations that nobody has taken up yet, to be withdrawn. */
export function InvitationList() {
  const queries = useQueryClient();
  const libraries = useLibraries().data ?? [];
  const open = useQuery({
    queryKey: ["invitations"],
    queryFn: async () => (await resultOf(api.GET("/api/invitations"))).invitations,
  }).data?.filter(({ used, expires }) => used === null && new Date(expires) > new Date());
  if (!open || open.length === 0) return null;
  const withdraw = async (invitation_id: number) => {
    const params = { path: { invitation_id } };
    await succeeded(api.DELETE("/api/invitations/{invitation_id}", { params }));
    await queries.invalidateQueries({ queryKey: ["invitations"] });
  };
  return (
    <section>
      <h3 className="mb-1 font-medium">Open invitations</h3>
      <ul className="grid max-h-[140px] gap-1 overflow-y-auto">
        {open.map((one) => (
          <FactRow
            key={one.id}
            title={one.note || "no note"}
            facts={`${
              one.library_id === null
                ? one.account_id === null
                  ? "no library yet"
                  : "for the account's owner"
                : `${one.role} of ${libraries.find(({ id }) => id === one.library_id)?.name ?? "a library"}`
            }, until ${new Date(one.expires).toLocaleDateString()}`}
            verb="Withdraw"
            onDo={() => void withdraw(one.id)}
          />
        ))}
      </ul>
    </section>
  );
}
