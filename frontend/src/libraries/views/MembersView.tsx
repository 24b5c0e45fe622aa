import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { fieldProblem, errorText, resultOf, api, mayDo, type LibraryItem } from "../../api";
import { MEMBER_ROLES } from "../../session";
import { Button, Choice, TextField } from "../../ui";
import { LibraryForm } from "./LibraryForm";
import { VocabularyForm } from "./VocabularyForm";

type Role = (typeof MEMBER_ROLES)[number][0];
const roleOf = (role: string): Role =>
  MEMBER_ROLES.find(([one]) => one === role)?.[0] ?? "listener";

const MEANS: Record<Role, string> = {
  listener: "finds, listens, downloads, requests",
  reviewer: "also comments and approves",
  editor: "adds and changes samples and sounds",
  owner: "everything, releases and members too",
};

/** Who may do what in a library, and the library itself. */
export function MembersView({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const path = { library_id: library.id };
  const manage = mayDo(library, "members.manage");
  const members = useQuery({
    queryKey: ["members", library.id],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/members", { params: { path } })))
        .members,
  });
  const [handle, setHandle] = useState("");
  const [role, setRole] = useState<Role>("editor");
  const [problem, setProblem] = useState<unknown>(null);
  const [ended, setEnded] = useState(0);
  const attempt = async (what: () => Promise<unknown>) => {
    try {
      await what();
      setProblem(null);
    } catch (error) {
      setProblem(error);
    }
    await Promise.all(
      ["members", "libraries"].map((key) => queries.invalidateQueries({ queryKey: [key] })),
    );
  };
  const put = (who: string, as: Role) =>
    attempt(() =>
      resultOf(
        api.PUT("/api/libraries/{library_id}/members", {
          params: { path },
          body: { handle: who, role: as },
        }),
      ),
    );
  const remove = (account_id: number) =>
    attempt(async () => {
      const { links_ended } = await resultOf(
        api.DELETE("/api/libraries/{library_id}/members/{account_id}", {
          params: { path: { ...path, account_id } },
        }),
      );
      setEnded(links_ended);
    });
  const add = async (event: FormEvent) => {
    event.preventDefault();
    await put(handle, role);
    setHandle("");
  };
  const own = fieldProblem(problem, "handle");
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] content-start gap-6 overflow-y-auto p-4">
      <section className="max-w-[720px]">
        <h3 className="mb-2 font-title text-[15px] font-semibold">Members</h3>
        {members.error && <p className="text-ink-2">{members.error.message}</p>}
        <ul>
          {members.data?.map((one) => (
            <li
              key={one.account_id}
              className="flex items-center gap-3 border-b border-line py-1.5"
            >
              <span className="w-48 truncate font-medium narrow:w-auto narrow:flex-1">
                {one.name}
              </span>
              <span className="w-24 truncate text-[12px] text-ink-2">{one.handle}</span>
              {manage ? (
                <Choice
                  label={`Role of ${one.name}`}
                  hidden
                  value={roleOf(one.role)}
                  options={MEMBER_ROLES}
                  onChange={(as) => void put(one.handle, as)}
                />
              ) : (
                <span className="w-24">{one.role}</span>
              )}
              <span className="min-w-0 flex-1 truncate text-[12px] text-ink-2 narrow:hidden">
                {MEANS[roleOf(one.role)]}
              </span>
              {manage && (
                <Button look="quiet" onClick={() => void remove(one.account_id)}>
                  Remove
                </Button>
              )}
            </li>
          ))}
        </ul>
        {ended > 0 && (
          <p role="status" className="mt-2 text-ink-2">
            {ended === 1 ? "A link that they made has" : `${ended} links that they made have`}{" "}
            ended. See Releases, where links can be kept open.
          </p>
        )}
        {manage && (
          <form onSubmit={(event) => void add(event)} className="mt-3 flex items-end gap-2">
            <TextField
              label="Add a member by sign-in name"
              className="flex-1"
              value={handle}
              onChange={(event) => setHandle(event.target.value)}
            />
            <Choice label="As" value={role} options={MEMBER_ROLES} onChange={setRole} />
            <Button type="submit" disabled={handle.trim() === ""}>
              Add
            </Button>
          </form>
        )}
        {problem !== null && (
          <p role="alert" className="mt-2 text-bad">
            {own ?? errorText(problem)}
          </p>
        )}
      </section>
      {mayDo(library, "library.change") && (
        <>
          <LibraryForm key={library.id} library={library} />
          <VocabularyForm key={`words ${library.id}`} library={library} />
        </>
      )}
    </div>
  );
}
