import { useQuery } from "@tanstack/react-query";
import { resultOf, api, type Sound } from "../api";

export interface Starter {
  category: string;
  words: string;
  document: Sound;
}

const NONE: Starter[] = [];

/** Sounds to begin with, one for each category. */
export function useStarters(): Starter[] {
  const { data } = useQuery({
    queryKey: ["starters"],
    staleTime: Infinity,
    queryFn: async () => (await resultOf(api.GET("/api/sources/starters"))).starters,
  });
  return (data as Starter[] | undefined) ?? NONE;
}
