import { useSyncExternalStore } from "react";
import { useBench } from "../../sound";
import { ChainInHand } from "./ChainInHand";
import { HeightHandle } from "./HeightHandle";
import { PathMap } from "./PathMap";
import { Output } from "./Output";
import { keptWithin, naturalHeight, usePathHeight } from "./pathHeight";
import { useOwnerInHand } from "./ownerInHand";

const subscribe = (change: () => void) => {
  window.addEventListener("resize", change);
  return () => window.removeEventListener("resize", change);
};

/** A map of all that flows, the chain in hand in full, and the output, which is always in sight. */
export function Path() {
  const sound = useBench((state) => state.document);
  const wanted = usePathHeight((state) => state.wanted);
  const windowHeight = useSyncExternalStore(subscribe, () => window.innerHeight);
  const owner = useOwnerInHand(sound);
  if (!sound) return null;
  const height = keptWithin(wanted ?? naturalHeight(sound, windowHeight), windowHeight);
  return (
    <section
      aria-label="Path"
      className="col-span-full flex min-w-0 flex-col border-t border-line-strong bg-band"
      style={{ height }}
    >
      <HeightHandle height={height} />
      <div className="flex min-h-0 flex-1">
        <PathMap sound={sound} inHand={owner} />
        <ChainInHand sound={sound} owner={owner} />
        <Output sound={sound} />
      </div>
    </section>
  );
}
