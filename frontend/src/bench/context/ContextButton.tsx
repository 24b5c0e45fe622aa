import { Layers } from "lucide-react";
import { useEffect, useState } from "react";
import { errorText } from "../../api";
import { useContext, useOpener, useTryOuts } from "../../loop";
import { useBench } from "../../sound";
import { Button, DialogFrame } from "../../ui";
import { ContextChoice } from "./ContextChoice";
import { lastContext } from "./contextStore";
import { toggleContext } from "./play";

/** In context: the draft inside a try-out, and back to the sound alone. */
export function ContextButton() {
  const on = useContext((state) => state.on);
  const [choosing, setChoosing] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const tryouts = useTryOuts();
  const open = useOpener();
  const begin = async (id: number) => {
    setProblem(null);
    try {
      await open(id);
      if (!useContext.getState().on) toggleContext();
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const press = () => {
    if (on) return toggleContext();
    const known = tryouts.data ?? [];
    const last = known.find(({ id }) => id === lastContext(soundId));
    const found = last ?? known.find(({ sound_ids }) => sound_ids.includes(soundId));
    if (found) void begin(found.id);
    else setChoosing(true);
  };
  useEffect(() => {
    window.addEventListener("nest-crate:context", press);
    return () => window.removeEventListener("nest-crate:context", press);
  });
  return (
    <>
      <Button
        className="px-2.5 tight:order-1"
        aria-pressed={on}
        style={on ? { background: "var(--band)", borderColor: "var(--ink)" } : undefined}
        title={on ? "Back to the sound alone (C)" : "Hear the sound inside a try-out (C)"}
        onClick={press}
      >
        <Layers size={15} aria-hidden /> <span className="max-[1200px]:sr-only">In context</span>
      </Button>
      {problem && (
        <span role="alert" className="text-[12px] text-bad">
          {problem}
        </span>
      )}
      <DialogFrame
        open={choosing}
        onClose={() => setChoosing(false)}
        title="Hear it in context"
        wide
      >
        <ContextChoice
          onChoose={(id) => {
            setChoosing(false);
            void begin(id);
          }}
        />
      </DialogFrame>
    </>
  );
}
