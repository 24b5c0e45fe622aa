import { type FormEvent, useState } from "react";
import { fieldProblem, errorText, resultOf, api } from "../api";
import { Button, TextField } from "../ui";

const NOTHING = { current: "", wanted: "", end_tokens: false };

/** Another password, which ends all other sessions. */
export function PasswordForm({ handle }: { handle: string }) {
  const [given, setGiven] = useState(NOTHING);
  const [problem, setProblem] = useState<unknown>(null);
  const [changed, setChanged] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setChanged(false);
    try {
      await resultOf(api.PUT("/api/session/password", { body: given }));
      setGiven(NOTHING);
      setProblem(null);
      setChanged(true);
    } catch (error) {
      setProblem(error);
    }
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="grid max-w-[320px] gap-3">
      <p className="text-ink-2">
        You sign in as <b className="text-ink">{handle}</b>.
      </p>
      <TextField
        label="Current password"
        type="password"
        autoComplete="current-password"
        value={given.current}
        problem={fieldProblem(problem, "current")}
        onChange={(event) => setGiven({ ...given, current: event.target.value })}
      />
      <TextField
        label="New password"
        type="password"
        autoComplete="new-password"
        hint="At least 10 characters. Other browsers are signed out."
        value={given.wanted}
        problem={fieldProblem(problem, "wanted")}
        onChange={(event) => setGiven({ ...given, wanted: event.target.value })}
      />
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={given.end_tokens}
          onChange={({ target }) => setGiven({ ...given, end_tokens: target.checked })}
        />
        Remove my tokens too
      </label>
      {problem !== null &&
        !fieldProblem(problem, "current") &&
        !fieldProblem(problem, "wanted") && (
          <p role="alert" className="text-bad">
            {errorText(problem)}
          </p>
        )}
      {changed && <p role="status">The password was changed.</p>}
      <div>
        <Button type="submit" disabled={!given.current || !given.wanted}>
          Change password
        </Button>
      </div>
    </form>
  );
}
