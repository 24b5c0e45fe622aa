import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
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
import { deck, useDeck } from "./deck";
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

/** Fetches the audio of the sides once, and puts it on the deck as they lie; whether it can play. */
export function useDeckOf(sides: Side[], compared: ComparedAnswer | undefined) {
  const audio = useQuery({
    queryKey: ["side audio", namesOf(sides)],
    enabled: sides.length >= 2,
    // A draft or sample may be another one by the next visit.
    gcTime: 0,
    ...LATER,
    queryFn: ({ signal }) =>
      Promise.all(sides.map((side) => audioFrom("/api/comparisons/audio", sideBody(side), signal))),
  });
  const buffers = audio.data;
  useEffect(() => {
    if (buffers && compared?.sides.length === buffers.length) deck.load(buffers, compared);
  }, [buffers, compared]);
  useEffect(() => () => deck.forget(), []);
  const loaded = useDeck((state) => state.loaded);
  return { ready: loaded !== null && loaded === compared, problem: audio.error };
}
