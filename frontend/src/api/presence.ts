import { useQuery } from "@tanstack/react-query";
import type { components } from "./generated/schema";
import { api, resultOf } from "./client";

export type Looked = components["schemas"]["LookBody"];
export type Companion = components["schemas"]["CompanionBody"];

const EVERY_MS = 4000;

const KEPT = "nest-crate:window";

/** The key of this window of the browser; after a reload it is the same window. */
function windowKey(): string {
  const kept = sessionStorage.getItem(KEPT);
  if (kept) return kept;
  const key = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
    byte.toString(16).padStart(2, "0"),
  ).join("");
  sessionStorage.setItem(KEPT, key);
  return key;
}

/**
 * What is looked at: whether it has changed, and who else looks at it. Asked every few seconds while
 * the window is seen; a server that is away is asked again later.
 */
export function useLooked(kind: "sound" | "library", id: number | null) {
  return useQuery({
    queryKey: ["presence", kind, id],
    queryFn: () =>
      resultOf(api.POST("/api/presence", { body: { window: windowKey(), kind, id: id ?? 0 } })),
    enabled: id !== null,
    refetchInterval: EVERY_MS,
    retry: false,
    staleTime: 0,
    gcTime: 0,
  }).data;
}
