import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answered, api, ApiError } from "../../api/client";
import type { Curve, PartialSet } from "../../api/types";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import type { CurveName } from "./curveRef";

interface Props {
  title: string;
  open: boolean;
  content: Curve | PartialSet;
  kind: CurveName | "partials";
  onClose: () => void;
}

/** Asks for the name under which a curve or a set of partials is kept for later sounds. */
export function KeepShapeDialog({ title, open, onClose, ...rest }: Props) {
  return (
    <DialogFrame open={open} onClose={onClose} title={title}>
      <KeepShape {...rest} onDone={onClose} />
    </DialogFrame>
  );
}

interface KeepShapeProps {
  content: Curve | PartialSet;
  kind: CurveName | "partials";
  onDone: () => void;
}

function KeepShape({ content, kind, onDone }: KeepShapeProps) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const keep = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { name, curve_name: kind, curve: { ...content } };
      await answered(api.POST("/api/shapes", { body }));
      await queries.invalidateQueries({ queryKey: ["shapes"] });
      onDone();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "It could not be kept");
    }
  };
  return (
    <form onSubmit={(event) => void keep(event)} className="grid gap-3">
      <label className="grid gap-1">
        Name
        <input
          autoFocus
          className="h-8 rounded-control border border-line-strong bg-sheet px-2"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <p className="text-[12px] text-ink-2">
        One of the same name is replaced. What was made from it stays as it is.
      </p>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="action" type="submit" disabled={name.trim() === ""}>
          Keep
        </Button>
      </div>
    </form>
  );
}
