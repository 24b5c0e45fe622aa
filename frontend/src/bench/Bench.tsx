import { useDeclarations } from "../api";
import { Finder } from "./finder";
import { Header, StaleDialog } from "./header";
import { Inspector } from "./inspector";
import { Checks } from "./judging";
import { Lanes } from "./timeline";
import { MacroStrip } from "./movers";
import { Path } from "./path";
import { PlayStrip } from "./PlayStrip";
import { useAudition } from "./playing";
import { useAutosave } from "../sound";
import { useShortcuts } from "./useShortcuts";

/** The Bench: header, one ruler over result and lanes, inspector, path and checks. */
export function Bench() {
  useAudition();
  useAutosave();
  useShortcuts();
  const declarations = useDeclarations();
  if (!declarations.data) return <main className="flex-1" aria-busy />;
  return (
    <main className="grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)_312px] grid-rows-[54px_minmax(0,1fr)_auto_172px]">
      <Header declarations={declarations.data} />
      <div className="flex min-h-0 min-w-0 flex-col bg-panel">
        <MacroStrip />
        <Lanes />
      </div>
      <Inspector declarations={declarations.data} />
      <PlayStrip declarations={declarations.data} />
      <div className="col-span-2 flex min-h-0 min-w-0 border-t border-line-strong bg-band">
        <Path />
        <Checks />
      </div>
      <StaleDialog />
      <Finder />
    </main>
  );
}
