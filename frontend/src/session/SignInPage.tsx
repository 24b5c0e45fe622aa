import { type FormEvent, useState } from "react";
import { errorText, resultOf, api, type SessionAnswer, useEnter } from "../api";
import { Button, TextField } from "../ui";
import { Cover } from "./Cover";

/** Where one signs in; in the demo with one press as one of its made-up people. */
export function SignInPage({ session }: { session: SessionAnswer }) {
  const enter = useEnter();
  const [handle, setHandle] = useState("");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const signIn = async (as: { handle: string; password: string }) => {
    setBusy(true);
    setProblem(null);
    try {
      enter(await resultOf(api.POST("/api/session", { body: as })));
    } catch (error) {
      setProblem(errorText(error));
      setBusy(false);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void signIn({ handle, password });
  };
  return (
    <Cover title="Sign in">
      <form onSubmit={submit} className="grid gap-3">
        <TextField
          label="Name"
          autoFocus
          autoComplete="username"
          required
          value={handle}
          onChange={(event) => setHandle(event.target.value)}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
        <Button look="action" type="submit" disabled={busy || !handle || !password}>
          Sign in
        </Button>
      </form>
      {session.demo_people.length > 0 && (
        <section className="mt-6 border-t border-line pt-4">
          <h2 className="mb-2 text-[12.5px] text-ink-2">
            This is the demo. Sign in as one of its people:
          </h2>
          <ul className="grid gap-1.5">
            {session.demo_people.map((one) => (
              <li key={one.handle}>
                <button
                  type="button"
                  disabled={busy}
                  onClick={() => void signIn({ handle: one.handle, password: one.password })}
                  className="flex min-h-9 w-full items-baseline justify-between rounded-control border border-line-strong bg-sheet px-3 py-1.5 hover:bg-band"
                >
                  <span className="font-medium">{one.name}</span>
                  <span className="text-[12px] text-ink-2">{one.role}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </Cover>
  );
}
