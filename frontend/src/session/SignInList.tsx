import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, resultOf, succeeded } from "../api";
import { Button, FactRow } from "../ui";
import { deviceName } from "./deviceName";

const KEY = ["sign-ins"];
const moment = (text: string) =>
  new Date(text).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" });

/** Where one is signed in; each browser can be signed out from here. */
export function SignInList() {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: KEY,
    queryFn: async () => (await resultOf(api.GET("/api/session/sign-ins"))).sign_ins,
  });
  const end = async (sign_in_id: number) => {
    const params = { path: { sign_in_id } };
    await succeeded(api.DELETE("/api/session/sign-ins/{sign_in_id}", { params }));
    await queries.invalidateQueries({ queryKey: KEY });
  };
  const endOthers = async () => {
    await succeeded(api.DELETE("/api/session/sign-ins"));
    await queries.invalidateQueries({ queryKey: KEY });
  };
  if (!found.data || found.data.length === 0) return null;
  return (
    <section className="mt-5">
      <h3 className="mb-1 font-title text-[15px] font-semibold">Signed in on</h3>
      <ul>
        {found.data.map((one) => (
          <FactRow
            key={one.id}
            title={deviceName(one.device)}
            facts={[
              one.current
                ? `this browser, since ${moment(one.created)}`
                : `last seen ${moment(one.last_seen)}`,
              one.address,
            ].join(" · ")}
            {...(one.current ? {} : { verb: "Sign out" })}
            onDo={() => void end(one.id)}
          />
        ))}
      </ul>
      {found.data.length > 1 && (
        <Button className="mt-2" onClick={() => void endOthers()}>
          Sign out everywhere else
        </Button>
      )}
    </section>
  );
}
