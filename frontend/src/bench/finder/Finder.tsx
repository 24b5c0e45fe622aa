import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogBackdrop,
  DialogPanel,
  DialogTitle,
} from "@headlessui/react";
import { Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useDeclarations, useSounds } from "../../api";
import { endTrial, tryOut, useTrial, useChains } from "../path";
import { useBench } from "../../sound";
import { entriesFor, found } from "./entries";
import type { Entry } from "./entry";
import { closeFinder, type Finding, useFinder } from "../parts";

const PROMPTS: Record<Finding["mode"], string> = {
  all: "Find a command, a processor, a parameter or a sound",
  processor: "Add a processor: type its name or what it does",
  replace: "Replace the processor",
};

/** Everything by typing. What can be heard is tried while it is only looked at. */
export function Finder() {
  const finding = useFinder((state) => state.finding);
  const close = () => {
    endTrial();
    closeFinder();
  };
  return (
    <Dialog open={finding !== null} onClose={close} className="relative z-40">
      <DialogBackdrop className="fixed inset-0 bg-shade" />
      <div className="fixed inset-0 flex justify-center px-4 pt-[12vh]">
        <DialogPanel className="h-fit w-full max-w-[520px] rounded-card border border-line-strong bg-panel p-2">
          <DialogTitle className="sr-only">Find</DialogTitle>
          {finding && <FinderPanel finding={finding} onDone={close} />}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function FinderPanel({ finding, onDone }: { finding: Finding; onDone: () => void }) {
  const [typed, setTyped] = useState("");
  const [active, setActive] = useState<string | null>(null);
  const sound = useBench((state) => state.document);
  const declarations = useDeclarations().data;
  const sounds = useSounds().data;
  const { chains } = useChains();
  const navigate = useNavigate();
  const entries = useMemo(
    () =>
      sound && declarations
        ? entriesFor({
            finding,
            sound,
            declarations,
            chains,
            sounds: sounds ?? [],
            openSound: (id) => void navigate(`/bench/${id}`),
          })
        : [],
    [finding, sound, declarations, chains, sounds, navigate],
  );
  const shown = found(entries, typed);
  return (
    <Combobox<Entry | null>
      value={null}
      onChange={(entry) => {
        onDone();
        entry?.act();
      }}
    >
      <div className="flex items-center gap-2 px-2">
        <Search size={15} aria-hidden className="text-ink-2" />
        <ComboboxInput
          autoFocus
          aria-label={PROMPTS[finding.mode]}
          placeholder={PROMPTS[finding.mode]}
          className="h-9 flex-1 bg-transparent outline-none"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </div>
      <ComboboxOptions
        static
        className="mt-1 max-h-[46vh] overflow-y-auto border-t border-line pt-1"
      >
        {shown.map((entry) => (
          // Registered anew with each list: else Enter takes what stood first before it was sorted.
          <ComboboxOption key={`${typed} ${entry.key}`} value={entry} className="group">
            {({ focus }) => (
              <Row entry={entry} focus={focus} onFocus={() => setActive(entry.key)} />
            )}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
      {shown.length === 0 && <p className="px-3 py-2 text-ink-2">No match.</p>}
      <Trying entry={shown.find(({ key }) => key === active) ?? null} />
    </Combobox>
  );
}

function Row({ entry, focus, onFocus }: { entry: Entry; focus: boolean; onFocus: () => void }) {
  useEffect(() => {
    if (focus) onFocus();
    // Only a change of the focus counts, not a new function.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [focus]);
  return (
    <span
      className={`flex min-h-7 items-center justify-between gap-3 rounded-sm px-2 ${focus ? "bg-band" : ""}`}
    >
      <span className="truncate">{entry.label}</span>
      <span className="shrink-0 text-[11.5px] text-ink-2">{entry.group}</span>
    </span>
  );
}

/** Hears what is looked at, and says so. */
function Trying({ entry }: { entry: Entry | null }) {
  const words = useTrial((state) => state.words);
  const listen = useBench((state) => state.listen);
  const latest = useRef(entry);
  useEffect(() => {
    latest.current = entry;
  });
  const key = entry?.key;
  useEffect(() => {
    const { tried, label = "" } = latest.current ?? {};
    // The same entry found again is no other one.
    if (key !== undefined && tried && listen) tryOut(label, tried);
    else endTrial();
  }, [key, listen]);
  return (
    <p className="min-h-6 border-t border-line px-2 pt-1.5 text-[11.5px] text-ink-2" role="status">
      {words
        ? `Heard with ${words}; Enter adds it, Esc cancels`
        : "Arrow keys choose, Enter does it"}
    </p>
  );
}
