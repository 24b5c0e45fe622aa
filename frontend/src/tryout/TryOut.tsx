import { useEffect, useMemo } from "react";
import { useLocation } from "react-router";
import {
  changeLoop,
  useMixFigures,
  useRound,
  useTryOut,
  useTryOutAutosave,
  holdBack,
} from "../loop";
import { Header } from "./Header";
import { Inspector } from "./Inspector";
import { Lanes } from "./Lanes";
import { Panel } from "./Panel";
import { useTryOutRuler } from "./rulerStore";
import { StaleDialog } from "./StaleDialog";
import { useKeys } from "./useKeys";

const NO_DRAFTS: ReadonlyMap<number, never> = new Map<number, never>();

/** What is heard: the document, or a change of it that is listened to. */
function useHeard() {
  const document = useTryOut((state) => state.tried?.document ?? state.document);
  return useMemo(() => (document ? { document, drafts: NO_DRAFTS } : null), [document]);
}

/** The screen: header, one ruler over mix and parts, inspector, and the game test or kit below. */
export function TryOut() {
  useTryOutAutosave();
  const heard = useHeard();
  const round = useRound(heard);
  const mix = useMixFigures(heard, "tryout");
  useKeys(heard);
  const { hash } = useLocation();
  useEffect(() => {
    if (hash === "#game") useTryOutRuler.setState({ panel: "game" });
  }, [hash]);
  const peakDb = mix.figures?.measures?.true_peak_db ?? 0;
  useEffect(() => holdBack(peakDb), [peakDb]);
  useEffect(() => {
    if (heard) void changeLoop(heard);
  }, [heard]);
  if (!heard) return <main className="flex-1" aria-busy />;
  return (
    <main
      id="work"
      tabIndex={-1}
      className="grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)_312px] grid-rows-[auto_minmax(0,1fr)_auto] narrow:grid-cols-[minmax(0,1fr)] compact:grid-rows-[auto_minmax(260px,1fr)_auto_auto] compact:overflow-y-auto"
    >
      <Header heard={heard} />
      <Lanes heard={heard} round={round} mix={mix} />
      <Inspector heard={heard} round={round} />
      <Panel heard={heard} round={round} />
      <StaleDialog />
    </main>
  );
}
