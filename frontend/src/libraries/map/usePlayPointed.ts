import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { oneSample } from "../../api";
import { playSample } from "../common";

// A glance over many is no wish to hear them all.
const DWELL_MS = 60;

/** Plays the sample that is pointed at for a moment, and any that is asked for. */
export function usePlayPointed(over: number | null) {
  const queries = useQueryClient();
  const wanted = useRef<number | null>(null);
  const play = (id: number) => {
    wanted.current = id;
    queries
      .ensureQueryData(oneSample(id))
      // Another one may be pointed at by now.
      .then((sample) => wanted.current === id && playSample(sample))
      .catch(() => undefined);
  };
  const latest = useRef(play);
  useEffect(() => {
    latest.current = play;
  });
  useEffect(() => {
    if (over === null) return;
    const timer = setTimeout(() => latest.current(over), DWELL_MS);
    return () => clearTimeout(timer);
  }, [over]);
  return { play };
}
