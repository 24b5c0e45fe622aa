import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { succeeded, errorText, resultOf, api, useLibraries, useSession } from "../api";
import { Button, Choice, FactRow, TextField } from "../ui";
import { InvitationList } from "./InvitationList";

export const MEMBER_ROLES = [
  ["listener", "Listener"],
  ["reviewer", "Reviewer"],
  ["editor", "Editor"],
  ["owner", "Owner"],
] as const;
type Role = (typeof MEMBER_ROLES)[number][0];

/** For administrators: who has an account here, and a link for someone new. */
export function PeopleSection() {
  const queries = useQueryClient();
  const own = useSession().data?.account?.id;
  const people = useQuery({
    queryKey: ["people"],
    queryFn: async () => (await resultOf(api.GET("/api/accounts"))).people,
  });
  const libraries = useLibraries().data?.filter(({ may }) => may.includes("members.manage")) ?? [];
  const [note, setNote] = useState("");
  const [libraryId, setLibraryId] = useState("");
  const [role, setRole] = useState<Role>("listener");
  const [link, setLink] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);

  const invite = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const library_id = libraryId === "" ? null : Number(libraryId);
      const made = await resultOf(
        api.POST("/api/invitations", { body: { note, library_id, role } }),
      );
      setLink(made.path ? `${location.origin}${made.path}` : null);
      setNote("");
      setProblem(null);
      await queries.invalidateQueries({ queryKey: ["invitations"] });
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const passwordLink = async (account_id: number) => {
    const params = { path: { account_id } };
    const made = await resultOf(api.POST("/api/accounts/{account_id}/invitation", { params }));
    setLink(made.path ? `${location.origin}${made.path}` : null);
    await queries.invalidateQueries({ queryKey: ["invitations"] });
  };
  const close = async (account_id: number, disabled: boolean) => {
    const params = { path: { account_id } };
    await succeeded(api.PUT("/api/accounts/{account_id}", { params, body: { disabled } }));
    await queries.invalidateQueries({ queryKey: ["people"] });
  };
  return (
    <div className="grid gap-4">
      <form onSubmit={(event) => void invite(event)} className="flex items-end gap-2">
        <TextField
          label="Invite someone"
          placeholder="a note to them"
          className="flex-1"
          maxLength={200}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <Choice
          label="To"
          value={libraryId}
          options={[
            ["", "no library yet"],
            ...libraries.map(({ id, name }) => [String(id), name] as const),
          ]}
          onChange={setLibraryId}
        />
        <Choice label="As" value={role} options={MEMBER_ROLES} onChange={setRole} />
        <Button type="submit">Make link</Button>
      </form>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      {link && (
        <p role="status" className="rounded-control border border-line-strong bg-sheet p-3">
          Valid once, for seven days; it is shown only once:
          <code className="figure mt-1 block text-[12px] break-all select-all">{link}</code>
        </p>
      )}
      <InvitationList />
      <section>
        <h3 className="mb-1 font-medium">Accounts</h3>
        <ul className="grid max-h-[260px] gap-1 overflow-y-auto">
          {people.data?.map((one) => (
            <FactRow
              key={one.id}
              title={one.name}
              faint={one.disabled}
              facts={[
                one.handle,
                ...(one.administrator ? ["administrator"] : []),
                ...(one.disabled ? ["closed"] : []),
              ].join(", ")}
              verb={one.id === own ? undefined : one.disabled ? "Open again" : "Close"}
              onDo={() => void close(one.id, !one.disabled)}
            >
              {one.id !== own && !one.disabled && (
                <Button look="quiet" onClick={() => void passwordLink(one.id)}>
                  New password
                </Button>
              )}
            </FactRow>
          ))}
        </ul>
      </section>
    </div>
  );
}
