import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { succeeded, errorText, api, type LibraryItem } from "../../api";
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
  const [visibility, setVisibility] = useState<Visibility>(
    VISIBILITIES.find(([one]) => one === library.visibility)?.[0] ?? "shared",
  );
  const [notice, setNotice] = useState<string | null>(null);
  const save = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const params = { path: { library_id: library.id } };
      const body = { name, description, visibility };
      await succeeded(api.PATCH("/api/libraries/{library_id}", { params, body }));
      setNotice("Saved");
      await queries.invalidateQueries({ queryKey: ["libraries"] });
    } catch (error) {
      setNotice(errorText(error));
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
