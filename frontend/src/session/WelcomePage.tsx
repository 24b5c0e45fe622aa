import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { fieldProblem, errorText, resultOf, api, useEnter } from "../api";
import { Button, TextField } from "../ui";
import { Cover } from "./Cover";

/** Behind a one-time link: choose a name and a password, and be in. */
export function WelcomePage() {
  const { secret = "" } = useParams();
  const params = { path: { secret } };
  const invitation = useQuery({
    queryKey: ["invitation", secret],
    retry: false,
    queryFn: () => resultOf(api.GET("/api/session/invitations/{secret}", { params })),
  });
  const enter = useEnter();
  const navigate = useNavigate();
  const [given, setGiven] = useState({ handle: "", name: "", password: "" });
  const [problem, setProblem] = useState<unknown>(null);

  const accept = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const request = api.POST("/api/session/invitations/{secret}", { params, body: given });
      enter(await resultOf(request));
      await navigate("/libraries");
    } catch (error) {
      setProblem(error);
    }
  };
  const field = (name: keyof typeof given) => ({
    value: given[name],
    problem: fieldProblem(problem, name),
    onChange: (event: React.ChangeEvent<HTMLInputElement>) =>
      setGiven({ ...given, [name]: event.target.value }),
  });
  if (invitation.error)
    return (
      <Cover title="Welcome">
        <p role="alert">{invitation.error.message}</p>
      </Cover>
    );
  const { library, role, note, account } = invitation.data ?? {};
  const known = typeof account === "string";
  return (
    <Cover title="Welcome">
      <p className="mb-4 text-ink-2">
        {known
          ? `Choose a new password. You sign in as ${account}.`
          : library
            ? `You are invited to ${library} as ${role}.`
            : "You are invited to Nest Crate."}
        {!known && note && ` ${note}`}
      </p>
      <form onSubmit={(event) => void accept(event)} className="grid gap-3">
        {!known && (
          <>
            <TextField label="Your name" autoFocus {...field("name")} />
            <TextField
              label="Name to sign in with"
              autoComplete="username"
              hint="Lowercase letters and digits"
              {...field("handle")}
            />
          </>
        )}
        <TextField
          label="Password"
          type="password"
          autoComplete="new-password"
          hint="At least 10 characters"
          {...field("password")}
        />
        {problem !== null && (
          <p role="alert" className="text-bad">
            {errorText(problem)}
          </p>
        )}
        <Button look="action" type="submit">
          {known ? "Set password" : "Make my account"}
        </Button>
      </form>
    </Cover>
  );
}
