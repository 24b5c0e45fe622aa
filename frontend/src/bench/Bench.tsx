import { useDeclarations } from "../api";
import { ContextStrip, OverlapDrawer, useContextLoop, useOthers } from "./context";
import { Finder } from "./finder";
import { Header, StaleDialog } from "./header";
import { Inspector, InspectorDrawer } from "./inspector";
import { Announcer, Checks } from "./judging";
import { Lanes } from "./timeline";
import { MoverStrip } from "./movers";
import { Path } from "./path";
import { PlayStrip } from "./PlayStrip";
import { TempoOffer, useAudition } from "./playing";
import { useAutosave } from "../sound";
import { useShortcuts } from "./useShortcuts";

/** The Bench: header, one ruler over result and lanes, inspector with the checks over it, and the path. */
export function Bench() {
  useAudition();
  useAutosave();
  useShortcuts();
  const heard = useContextLoop();
  const others = useOthers(heard);
  const declarations = useDeclarations();
  if (!declarations.data) return <main className="flex-1" aria-busy />;
  return (
    <main
      id="work"
      tabIndex={-1}
      className="grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)_312px] grid-rows-[auto_minmax(0,1fr)_auto_auto_auto] compact:grid-rows-[auto_minmax(300px,1fr)_auto_auto] compact:overflow-y-auto narrow:grid-cols-[minmax(0,1fr)]"
    >
      <Header declarations={declarations.data} />
      <div className="flex min-h-0 min-w-0 flex-col bg-panel">
        <TempoOffer />
        <MoverStrip />
        <Lanes others={others} />
      </div>
      <InspectorDrawer>
        <Inspector declarations={declarations.data} />
        <Checks />
        <OverlapDrawer heard={heard} />
      </InspectorDrawer>
      <ContextStrip />
      <PlayStrip declarations={declarations.data} />
      <Path />
      <Announcer />
      <StaleDialog />
      <Finder />
    </main>
  );
}
