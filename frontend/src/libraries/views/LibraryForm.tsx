import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { succeeded, errorText, fieldProblem, api, type LibraryItem } from "../../api";
import { Button, Choice, TextField } from "../../ui";

const VISIBILITIES = [
  ["private", "its owners"],
  ["shared", "its members"],
  ["public", "everyone with an account"],
] as const;
type Visibility = (typeof VISIBILITIES)[number][0];

/** Name, description and who may see a library. */
export function LibraryForm({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const [name, setName] = useState(library.name);
  const [description, setDescription] = useState(library.description);
  const [key, setKey] = useState(library.key);
  const [problem, setProblem] = useState<unknown>(null);
  const [visibility, setVisibility] = useState<Visibility>(
    VISIBILITIES.find(([one]) => one === library.visibility)?.[0] ?? "shared",
  );
  const [notice, setNotice] = useState<string | null>(null);
  const save = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const params = { path: { library_id: library.id } };
      const body = { name, description, visibility, key };
      await succeeded(api.PATCH("/api/libraries/{library_id}", { params, body }));
      setNotice("Saved");
      setProblem(null);
      await queries.invalidateQueries({ queryKey: ["libraries"] });
    } catch (error) {
      setProblem(error);
      setNotice(fieldProblem(error, "key") ? null : errorText(error));
    }
  };
  return (
    <form onSubmit={(event) => void save(event)} className="grid max-w-[480px] gap-3">
      <h3 className="font-title text-[15px] font-semibold">Library settings</h3>
      <TextField
        label="Name"
        required
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <TextField
        label="Description"
        value={description}
        onChange={(event) => setDescription(event.target.value)}
      />
      <TextField
        label="Key"
        figure
        required
        maxLength={60}
        spellCheck={false}
        hint="Names the library in addresses and scripts; builds that use it must follow a change."
        problem={fieldProblem(problem, "key")}
        value={key}
        onChange={(event) => setKey(event.target.value)}
      />
      <Choice
        label="Visible to"
        value={visibility}
        options={VISIBILITIES}
        onChange={setVisibility}
      />
      <div className="flex items-center gap-3">
        <Button type="submit">Save</Button>
        {notice && <span role="status">{notice}</span>}
      </div>
    </form>
  );
}
