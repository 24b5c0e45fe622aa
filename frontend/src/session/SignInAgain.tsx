import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import {
  api,
  errorText,
  noteSession,
  resultOf,
  type SessionAnswer,
  useEnter,
  useSignedOut,
} from "../api";
import { Button, DialogFrame, TextField } from "../ui";

type Account = NonNullable<SessionAnswer["account"]>;

/** Signed out elsewhere, or for too long: one signs in over the screen, which stays as it is. */
export function SignInAgain({ account }: { account: Account }) {
  const open = useSignedOut((state) => state.signedOut);
  const queries = useQueryClient();
  const enter = useEnter();
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const signIn = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const body = { handle: account.handle, password };
      const session = await resultOf(api.POST("/api/session", { body }));
      queries.setQueryData(["session"], session);
      noteSession(true);
      setPassword("");
      setProblem(null);
      await queries.invalidateQueries();
    } catch (error) {
      setProblem(errorText(error));
    }
    setBusy(false);
  };
  const asSomebodyElse = async () => {
    enter(await resultOf(api.GET("/api/session")));
  };
  return (
    <DialogFrame open={open} onClose={() => undefined} title="You were signed out">
      <form onSubmit={(event) => void signIn(event)} className="grid gap-3">
        <p>Sign in again to go on; nothing is lost. What is not saved yet is saved then.</p>
        <TextField label="Name" autoComplete="username" readOnly value={account.handle} />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          autoFocus
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button type="button" onClick={() => void asSomebodyElse()}>
            Sign in as somebody else
          </Button>
          <Button look="action" type="submit" disabled={busy || password === ""}>
            Sign in
          </Button>
        </div>
      </form>
    </DialogFrame>
  );
}
