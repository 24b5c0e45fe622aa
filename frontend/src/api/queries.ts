import { queryOptions, useQuery } from "@tanstack/react-query";
import { resultOf, api, ApiError } from "./client";
import type { Declarations } from "./types";

/** The one declaration of every parameter; it never changes while the page lives. */
export const declarationsQuery = queryOptions({
  queryKey: ["declarations"],
  staleTime: Infinity,
  queryFn: async (): Promise<Declarations> => {
    const response = await fetch("/api/declarations");
    if (!response.ok) throw new ApiError(response.status, null, "The server does not answer");
    return (await response.json()) as Declarations;
  },
});

export const useDeclarations = () => useQuery(declarationsQuery);

/** Of the server, where it is wanted: what it is, and which engine renders. */
export function useVersion(wanted: boolean) {
  return useQuery({
    queryKey: ["version"],
    enabled: wanted,
    staleTime: Infinity,
    queryFn: () => resultOf(api.GET("/api/health")),
  });
}

export function useSounds() {
  return useQuery({
    queryKey: ["sounds"],
    queryFn: async () => (await resultOf(api.GET("/api/sounds"))).sounds,
  });
}

export const librariesQuery = {
  queryKey: ["libraries"],
  queryFn: async () => (await resultOf(api.GET("/api/libraries"))).libraries,
};

export const useLibraries = () => useQuery(librariesQuery);

/** Where a new sound goes; an account that may add to no library gets one of its own. */
export const libraryForNewSounds = () => resultOf(api.POST("/api/libraries/for-new-sounds"));
