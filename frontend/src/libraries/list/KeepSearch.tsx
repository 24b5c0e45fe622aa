import { useQueryClient } from "@tanstack/react-query";
import { resultOf, api, type SampleQuery } from "../../api";
import { DialogFrame, KeepForm } from "../../ui";

interface Props {
  open: boolean;
  onClose: () => void;
  query: SampleQuery;
}

export function KeepSearch({ open, onClose, query }: Props) {
  const queries = useQueryClient();
  return (
    <DialogFrame open={open} onClose={onClose} title="Save search">
      <KeepForm
        verb="Save search"
        hint="It is listed at the left; a search of the same name is replaced."
        keep={async (name) => {
          await resultOf(api.POST("/api/searches", { body: { name, query } }));
          await queries.invalidateQueries({ queryKey: ["searches"] });
        }}
        onDone={onClose}
      />
    </DialogFrame>
  );
}
