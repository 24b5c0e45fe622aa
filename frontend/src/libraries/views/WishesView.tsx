import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { fieldProblem, errorText, resultOf, api, mayDo, type LibraryItem } from "../../api";
import { Button, Choice, TextField } from "../../ui";
import { WishCard } from "./WishCard";

const useRecordings = () =>
  useQuery({
    queryKey: ["recordings"],
    queryFn: async () => (await resultOf(api.GET("/api/recordings"))).recordings,
  });

/** Wishes for sounds beside a library, and what answers them. */
export function WishesView({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const recordings = useRecordings().data ?? [];
  const path = { library_id: library.id };
  const wishes = useQuery({
    queryKey: ["wishes", library.id],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/wishes", { params: { path } }))).wishes,
  });
  const [given, setGiven] = useState({ title: "", text: "", recording: "" });
  const [problem, setProblem] = useState<unknown>(null);
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const recording_id = given.recording === "" ? null : Number(given.recording);
      const body = { title: given.title, text: given.text, recording_id };
      await resultOf(api.POST("/api/libraries/{library_id}/wishes", { params: { path }, body }));
      setGiven({ title: "", text: "", recording: "" });
      setProblem(null);
    } catch (error) {
      setProblem(error);
    }
    await queries.invalidateQueries({ queryKey: ["wishes"] });
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      {mayDo(library, "wish.make") && (
        <form
          onSubmit={(event) => void make(event)}
          className="mb-5 grid max-w-[860px] grid-cols-[1fr_1.4fr_180px_auto] items-end gap-2"
        >
          <TextField
            label="Request a sound"
            placeholder="a gong in the hall"
            maxLength={120}
            value={given.title}
            problem={fieldProblem(problem, "title")}
            onChange={(event) => setGiven({ ...given, title: event.target.value })}
          />
          <TextField
            label="Description"
            value={given.text}
            onChange={(event) => setGiven({ ...given, text: event.target.value })}
          />
          <Choice
            label="Example recording"
            value={given.recording}
            options={[
              ["", "none"],
              ...recordings.map(({ id, name }) => [String(id), name] as const),
            ]}
            onChange={(recording) => setGiven({ ...given, recording })}
          />
          <Button look="action" type="submit" disabled={given.title.trim() === ""}>
            Request
          </Button>
        </form>
      )}
      {problem !== null && !fieldProblem(problem, "title") && (
        <p role="alert" className="mb-3 text-bad">
          {errorText(problem)}
        </p>
      )}
      {wishes.data?.length === 0 && (
        <p className="text-ink-2">
          No requests. A request says what is missing; a designer answers it with a sound.
        </p>
      )}
      <ul className="grid max-w-[860px] gap-2">
        {wishes.data?.map((wish) => (
          <WishCard key={wish.id} wish={wish} library={library} />
        ))}
      </ul>
    </div>
  );
}
