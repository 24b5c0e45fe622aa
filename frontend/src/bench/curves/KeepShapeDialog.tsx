import { useQueryClient } from "@tanstack/react-query";
import { resultOf, api, type Curve, type PartialSet } from "../../api";
import { DialogFrame, KeepForm } from "../../ui";
import type { CurveName } from "../../sound";

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
  const queries = useQueryClient();
  const keep = async (name: string) => {
    const body = { name, curve_name: kind, curve: { ...content } };
    await resultOf(api.POST("/api/shapes", { body }));
    await queries.invalidateQueries({ queryKey: ["shapes"] });
  };
  return (
    <KeepForm
      verb="Keep"
      hint="A shape of the same name is replaced. Curves made from it do not change."
      keep={keep}
      onDone={onDone}
    />
  );
}
