import { useState } from "react";
import { errorText, useRefreshSamples, resultOf, api } from "../../api";
import { Button } from "../../ui";
import { useSelection } from "./queryStore";

/** What was done last to samples, and a way to take it back. */
export function UndoOffer() {
  const undoable = useSelection((state) => state.undoable);
  const refresh = useRefreshSamples();
  const [problem, setProblem] = useState<{ gesture: string; words: string } | null>(null);
  if (!undoable) return null;
  const { gesture, label } = undoable;
  const undo = async () => {
    try {
      await resultOf(api.POST("/api/samples/undo", { body: { gesture } }));
      useSelection.setState({ undoable: null });
      setProblem(null);
    } catch (error) {
      setProblem({ gesture, words: errorText(error) });
    }
    await refresh();
  };
  const refused = problem?.gesture === gesture ? problem.words : null;
  return (
    <span role="status" className="ml-auto flex min-w-0 items-center gap-1">
      <span className="truncate">{refused ?? label}</span>
      {refused ? (
        <Button look="quiet" onClick={() => useSelection.setState({ undoable: null })}>
          Dismiss
        </Button>
      ) : (
        <Button look="quiet" onClick={() => void undo()}>
          Undo
        </Button>
      )}
    </span>
  );
}
