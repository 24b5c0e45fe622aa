import { useState } from "react";
import { api, errorText, resultOf } from "../api";
import { Button, Choice, DialogFrame, TextField } from "../ui";
import { keepOnly } from "./history";
import { useBatch } from "./store";
import { FIGURE_NAMES } from "./words";

/** Choose the members that differ most, or a ladder along a figure; shown before it is done. */
export function ThinDialog({ onClose }: { onClose: () => void }) {
  const [count, setCount] = useState("12");
  const [by, setBy] = useState("apart");
  const [problem, setProblem] = useState<string | null>(null);
  const thinned = useBatch((state) => state.thinned);
  const made = useBatch((state) => state.rows.size);
  const wanted = Number(count);
  const valid = Number.isInteger(wanted) && wanted >= 1 && wanted <= 5000;
  const show = async () => {
    const { round } = useBatch.getState();
    if (!round) return;
    try {
      const params = { path: { round_id: round.id } };
      const body = { count: wanted, by, among: null };
      const found = await resultOf(api.POST("/api/rounds/{round_id}/thin", { params, body }));
      useBatch.setState({ thinned: found.numbers });
      setProblem(null);
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const close = () => {
    useBatch.setState({ thinned: null });
    onClose();
  };
  return (
    <DialogFrame open onClose={close} title="Thin out">
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void show();
        }}
      >
        <TextField
          label="Members to keep"
          figure
          inputMode="numeric"
          value={count}
          problem={valid ? null : "A whole number from 1 to 5000"}
          onChange={(event) => setCount(event.target.value)}
        />
        <Choice
          label="Which"
          value={by}
          options={[
            ["apart", "those that differ most"],
            ...FIGURE_NAMES.map(
              ([name, label]) => [name, `a ladder by ${label.toLowerCase()}`] as const,
            ),
          ]}
          onChange={(next) => {
            setBy(next);
            useBatch.setState({ thinned: null });
          }}
        />
        <p className="text-[12px] text-ink-2">
          Of {made} members. Rejected ones are left out; starred ones come first.
        </p>
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
        {thinned && (
          <p role="status">
            Chosen: <span className="figure">{thinned.join(", ") || "none"}</span>
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" disabled={!valid}>
            Show
          </Button>
          <Button
            look="action"
            disabled={!thinned?.length}
            onClick={() => {
              if (thinned) keepOnly(thinned);
              close();
            }}
          >
            Keep these, reject the others
          </Button>
        </div>
      </form>
    </DialogFrame>
  );
}
