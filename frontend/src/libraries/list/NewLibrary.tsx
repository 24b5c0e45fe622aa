import { useQueryClient } from "@tanstack/react-query";
import { resultOf, api } from "../../api";
import { DialogFrame, KeepForm } from "../../ui";

interface Props {
  open: boolean;
  onClose: () => void;
  onMade: (id: number) => void;
}

export function NewLibrary({ open, onClose, onMade }: Props) {
  const queries = useQueryClient();
  return (
    <DialogFrame open={open} onClose={onClose} title="New library">
      <KeepForm
        verb="Make library"
        hint="You own it; others join as members, each with a role."
        keep={async (name) => {
          const body = { name, description: "", visibility: "shared" as const };
          const { id } = await resultOf(api.POST("/api/libraries", { body }));
          await queries.invalidateQueries({ queryKey: ["libraries"] });
          onMade(id);
        }}
        onDone={onClose}
      />
    </DialogFrame>
  );
}
