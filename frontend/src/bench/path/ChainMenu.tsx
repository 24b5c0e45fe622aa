import { Ellipsis } from "lucide-react";
import { useState } from "react";
import type { Processor } from "../../api";
import { ActionMenu, Button, DialogFrame, KeepForm } from "../../ui";
import {
  withChain,
  edit,
  select,
  hasCopied,
  pasteProcessor,
  withLoaded,
  type ChainPlace,
} from "../../sound";
import { useChains } from "./useChains";

/** Save a chain, load a saved one, paste, empty. */
export function ChainMenu({ place }: { place: ChainPlace }) {
  const { ref, name, owner, chain } = place;
  const [keeping, setKeeping] = useState(false);
  const { chains, forget } = useChains();
  const [forgetting, setForgetting] = useState(false);
  const inHand = () => select(owner === "main" ? { kind: "main" } : { kind: "layer", id: owner });
  const load = (saved: { name: string; chain: Processor[] }) =>
    edit(`Chain ${saved.name} loaded into ${name.toLowerCase()}`, (sound) =>
      withLoaded(sound, ref, saved.chain),
    );
  return (
    <>
      <ActionMenu
        label={`Chain of ${name}: more`}
        title="Save this chain, load a saved one"
        className="grid size-6 place-items-center rounded-sm text-ink-2 hover:bg-panel"
        anchor="top start"
        actions={[
          ...(chain.length > 0 ? [{ label: "Save chain…", act: () => setKeeping(true) }] : []),
          ...chains.map((saved) => ({ label: `Load ${saved.name}`, act: () => load(saved) })),
          ...(chains.length > 0
            ? [{ label: "Delete a saved chain…", act: () => setForgetting(true) }]
            : []),
          ...(hasCopied()
            ? [
                {
                  label: "Paste processor",
                  act: () => {
                    inHand();
                    pasteProcessor();
                  },
                },
              ]
            : []),
          ...(chain.length > 0
            ? [
                {
                  label: "Empty chain",
                  act: () => edit(`Chain of ${name} emptied`, (sound) => withChain(sound, [], ref)),
                },
              ]
            : [{ label: "Add a processor with the +", act: () => inHand() }]),
        ]}
      >
        <Ellipsis size={13} aria-hidden />
      </ActionMenu>
      <DialogFrame
        open={keeping}
        onClose={() => setKeeping(false)}
        title={`Save the chain of ${name}`}
      >
        <KeepChain chain={chain} onDone={() => setKeeping(false)} />
      </DialogFrame>
      <DialogFrame open={forgetting} onClose={() => setForgetting(false)} title="Saved chains">
        <ul>
          {chains.map((saved) => (
            <li key={saved.id} className="flex min-h-8 items-center justify-between">
              {saved.name}
              <Button onClick={() => void forget(saved.id)}>Delete</Button>
            </li>
          ))}
        </ul>
        <p className="mt-2 text-[12px] text-ink-2">Sounds that use it keep their processors.</p>
      </DialogFrame>
    </>
  );
}

function KeepChain({ chain, onDone }: { chain: Processor[]; onDone: () => void }) {
  const { keep } = useChains();
  return (
    <KeepForm
      verb="Save"
      hint="It can be loaded into any sound. A chain of the same name is replaced; movers are not saved."
      keep={(name) => keep(name, chain)}
      onDone={onDone}
    />
  );
}
