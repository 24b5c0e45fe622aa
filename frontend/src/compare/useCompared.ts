import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import {
  api,
  mayPass,
  ownStream,
  resultOf,
  sideBody,
  sideText,
  wasReplaced,
  type ComparedAnswer,
  type Side,
} from "../api";
import { audioFrom } from "../audio";
import { deck } from "./deck";
import type { Asked } from "./store";

const retry = (times: number, error: unknown) =>
  times < 20 && (mayPass(error) || wasReplaced(error));
const LATER = { retry, retryDelay: 2000, staleTime: Infinity };

const namesOf = (sides: readonly Side[]) => sides.map(sideText).join(" ");

/** How the sides lie, their pictures, and where they differ. */
export function useCompared(sides: Side[], { match, shiftsS, leftOut }: Asked) {
  return useQuery({
    queryKey: ["compared", namesOf(sides), match, shiftsS, leftOut],
    enabled: sides.length >= 2,
    placeholderData: keepPreviousData,
    ...LATER,
    staleTime: 0,
    queryFn: ({ signal }) =>
      resultOf(
        api.POST("/api/comparisons", {
          signal,
          body: {
            sides: sides.map(sideBody),
            match,
            shifts_s: shiftsS,
            left_out: leftOut.map(({ fromS, toS }) => ({ from_s: fromS, to_s: toS })),
            stream: ownStream("compare"),
          },
        }),
      ),
  });
}

/** What the sides are called. */
export const useSideNames = (sides: Side[]) =>
  useQuery({
    queryKey: ["side names", namesOf(sides)],
    enabled: sides.length >= 1,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async () =>
      (await resultOf(api.POST("/api/comparisons/names", { body: { sides: sides.map(sideBody) } })))
        .sides,
  });

/** What is typical in the library of what is compared. */
export const useTypical = (sides: Side[]) =>
  useQuery({
    queryKey: ["typical", namesOf(sides)],
    enabled: sides.length >= 2,
    retry: false,
    queryFn: () =>
      resultOf(api.POST("/api/comparisons/typical", { body: { sides: sides.map(sideBody) } })),
  });

/** What blind tests of just these sides said. */
export const useBlindTests = (sides: Side[]) =>
  useQuery({
    queryKey: ["blind tests", namesOf(sides)],
    enabled: sides.length >= 2,
    retry: false,
    queryFn: async () =>
      (
        await resultOf(
          api.POST("/api/blind-tests/of-sides", { body: { sides: sides.map(sideBody) } }),
        )
      ).tests,
  });

/** Fetches the audio of the sides and puts it on the deck; whether it can play. */
export function useDeckOf(sides: Side[], compared: ComparedAnswer | undefined) {
  const [problem, setProblem] = useState<string | null>(null);
  const [loaded, setLoaded] = useState<ComparedAnswer | null>(null);
  const names = namesOf(sides);
  useEffect(() => {
    if (!compared || compared.sides.length !== sides.length) return;
    const control = new AbortController();
    const load = async () => {
      const buffers = await Promise.all(sides.map((side) => audioOf(side, control.signal)));
      if (control.signal.aborted) return;
      deck.load(buffers, compared);
      setLoaded(compared);
      setProblem(null);
    };
    load().catch((error: unknown) => {
      if (!control.signal.aborted)
        setProblem(error instanceof Error ? error.message : "The audio could not be loaded");
    });
    return () => control.abort();
    // A side is the same as long as its name is.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [names, compared]);
  useEffect(() => () => deck.forget(), []);
  return { ready: loaded !== null && loaded === compared, problem };
}

const kept = new Map<string, Promise<AudioBuffer>>();
const MOST_KEPT = 12;

/** The audio of a side. A draft changes under its name, so only what stays is remembered. */
function audioOf(side: Side, signal: AbortSignal): Promise<AudioBuffer> {
  const fetched = () => audioFrom("/api/comparisons/audio", sideBody(side), signal);
  const stays = side.kind === "recording" || (side.kind === "sound" && side.revision !== null);
  if (!stays) return fetched();
  const name = sideText(side);
  const there = kept.get(name);
  if (there) return there;
  const made = fetched();
  kept.set(name, made);
  made.catch(() => kept.delete(name));
  const oldest = kept.keys().next().value;
  if (kept.size > MOST_KEPT && oldest !== undefined) kept.delete(oldest);
  return made;
}
