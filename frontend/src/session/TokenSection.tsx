import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { succeeded, errorText, resultOf, api, useLibraries } from "../api";
import { Button, Choice, FactRow, TextField } from "../ui";

const SCOPES = [
  ["read", "May read"],
  ["write", "May change"],
] as const;
const DAYS = [
  ["30", "for 30 days"],
  ["90", "for 90 days"],
  ["365", "for a year"],
] as const;

const day = (moment: string) => new Date(moment).toLocaleDateString();

/** Tokens by which programs, such as a game's build, read or change libraries. */
export function TokenSection() {
  const queries = useQueryClient();
  const tokens = useQuery({
    queryKey: ["tokens"],
    queryFn: async () => (await resultOf(api.GET("/api/session/tokens"))).tokens,
  });
  const [name, setName] = useState("");
  const [scope, setScope] = useState<"read" | "write">("read");
  const [days, setDays] = useState<"30" | "90" | "365">("90");
  const libraries = useLibraries().data ?? [];
  const [library, setLibrary] = useState("");
  const [secret, setSecret] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);

  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const library_id = library === "" ? null : Number(library);
      const body = { name, scope, days: Number(days), library_id };
      setSecret((await resultOf(api.POST("/api/session/tokens", { body }))).secret ?? null);
      setName("");
      setProblem(null);
    } catch (error) {
      setProblem(errorText(error));
    }
    await queries.invalidateQueries({ queryKey: ["tokens"] });
  };
  const remove = async (token_id: number) => {
    await succeeded(
      api.DELETE("/api/session/tokens/{token_id}", { params: { path: { token_id } } }),
    );
    await queries.invalidateQueries({ queryKey: ["tokens"] });
  };
  return (
    <div className="grid gap-4">
      <form
        onSubmit={(event) => void make(event)}
        className="grid grid-cols-[2fr_1fr_1fr] items-end gap-2 narrow:grid-cols-2"
      >
        <TextField
          label="Token for"
          placeholder="the game's build"
          className="narrow:col-span-2"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Choice label="Scope" value={scope} options={SCOPES} onChange={setScope} />
        <Choice label="Lasts" value={days} options={DAYS} onChange={setDays} />
        <Choice
          label="Opens"
          value={library}
          options={[
            ["", "all my libraries"],
            ...libraries.map((one) => [`${one.id}`, `${one.name} only`] as const),
          ]}
          onChange={setLibrary}
        />
        <Button type="submit" className="col-span-2 justify-self-end" disabled={name.trim() === ""}>
          Make token
        </Button>
      </form>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      {secret && (
        <p role="status" className="rounded-control border border-line-strong bg-sheet p-3">
          Copy it now; it is shown only once:
          <code className="figure mt-1 block text-[12px] break-all select-all">{secret}</code>
        </p>
      )}
      <ul className="grid gap-1">
        {tokens.data?.map((one) => (
          <FactRow
            key={one.id}
            title={one.name}
            facts={[
              `${one.scope === "read" ? "reads" : "changes"} ${
                one.library_id === null
                  ? "all libraries"
                  : (libraries.find(({ id }) => id === one.library_id)?.name ?? "one library")
              }`,
              `until ${day(one.expires)}`,
              one.last_used ? `last used ${day(one.last_used)}` : "never used",
            ].join(", ")}
            verb="Remove"
            onDo={() => void remove(one.id)}
          />
        ))}
      </ul>
    </div>
  );
}
