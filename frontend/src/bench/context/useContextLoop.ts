import { useEffect, useMemo, useState } from "react";
import {
  changeLoop,
  holdBack,
  stopLoop,
  useContext,
  useMixFigures,
  useTryOut,
  useTryOutAutosave,
  partInHand,
  planOf,
  type Heard,
} from "../../loop";
import { useBench } from "../../sound";
import { heardInContext } from "./heard";

/** What is heard in context; null while it is off or nothing is chosen. */
function useHeardInContext(): Heard | null {
  const { on } = useContext();
  useTryOut((state) => state.tried?.document ?? state.document);
  useBench((state) => state.document);
  useBench((state) => state.opened?.id ?? null);
  return on ? heardInContext() : null;
}

/** Keeps the loop current with the Bench: every edit is heard from the next hit on. */
export function useContextLoop(): Heard | null {
  const heard = useHeardInContext();
  useTryOutAutosave();
  const mix = useMixFigures(heard, "context");
  const peakDb = mix.figures?.measures?.true_peak_db ?? 0;
  useEffect(() => holdBack(peakDb), [peakDb]);
  const on = heard !== null;
  useEffect(() => {
    if (!on) return;
    const follow = () => {
      const now = heardInContext();
      if (now) void changeLoop(now);
    };
    follow();
    // The loop hears of an edit before the page is drawn anew, which takes longer than a render.
    const ends = [
      useBench.subscribe(follow),
      useTryOut.subscribe(follow),
      useContext.subscribe(follow),
    ];
    return () => ends.forEach((end) => end());
  }, [on]);
  // The Bench leaves nothing playing behind.
  useEffect(
    () => () => {
      stopLoop();
      // The try-out stays in the store: a save of it may still be under way.
      useContext.setState({ on: false, othersDb: 0, inPlaceOf: null });
    },
    [],
  );
  return heard;
}

/** What the other parts play while the sound is heard; null where there is nothing. */
export function useOthers(heard: Heard | null) {
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const inPlaceOf = useContext((state) => state.inPlaceOf);
  const tryout = heard?.document ?? null;
  const own = tryout ? (partInHand(tryout, soundId, inPlaceOf)?.id ?? null) : null;
  const others = useOthersHeard(heard, own);
  const mix = useMixFigures(others, "others");
  const [fromS, setFromS] = useState(0);
  useEffect(() => {
    if (!tryout || own === null) return;
    let wanted = true;
    planOf(tryout).then(
      (plan) => {
        if (wanted) setFromS(plan.events.find(({ part }) => part === own)?.at_s ?? 0);
      },
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [tryout, own]);
  if (!heard || !mix.figures) return null;
  return { outline: mix.figures.outline, lengthS: mix.figures.length_s, fromS };
}

/** The try-out without the sound; it stays the same while only the sound is edited. */
function useOthersHeard(heard: Heard | null, own: string | null): Heard | null {
  const document = heard?.document ?? null;
  const text = useMemo(() => {
    if (!document || own === null) return null;
    // What the sound pulls down is still pulled down by its hits.
    const parts = document.parts.map((part) =>
      part.id === own ? { ...part, mute: true, solo: false } : part,
    );
    return JSON.stringify({ ...document, parts });
  }, [document, own]);
  return useMemo(
    () =>
      text === null ? null : { document: JSON.parse(text) as Heard["document"], drafts: new Map() },
    [text],
  );
}
