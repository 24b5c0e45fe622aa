import { type FormEvent, useState } from "react";
import { ApiError } from "../api";
import { Button } from "./Button";

interface Props {
  /** What the button says. */
  verb: string;
  hint: string;
  keep: (name: string) => Promise<void>;
  onDone: () => void;
}

/** Asks for the name under which something is kept; an error is shown at the field. */
export function KeepForm({ verb, hint, keep, onDone }: Props) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await keep(name);
      onDone();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "It could not be kept");
    }
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="grid gap-3">
      <label className="grid gap-1">
        Name
        <input
          autoFocus
          className="h-8 rounded-control border border-line-strong bg-sheet px-2"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <p className="text-[12px] text-ink-2">{hint}</p>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="action" type="submit" disabled={name.trim() === ""}>
          {verb}
        </Button>
      </div>
    </form>
  );
}
