import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { resultOf, api } from "./client";
import type { components } from "./generated/schema";
import { noteSession } from "./signedOut";

export type SessionAnswer = components["schemas"]["SessionBody"];

/** Who is signed in, if anybody. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => resultOf(api.GET("/api/session")),
  staleTime: 60_000,
});

export const useSession = () => useQuery(sessionQuery);

/** Takes over a new session; what another account had read is forgotten. */
export function useEnter() {
  const queries = useQueryClient();
  return (session: SessionAnswer) => {
    noteSession(session.account !== null);
    queries.setQueryData(["session"], session);
    queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
  };
}

/** What the account may do in a library. */
export const mayDo = (library: { may: string[] } | undefined, action: string) =>
  library?.may.includes(action) ?? false;
