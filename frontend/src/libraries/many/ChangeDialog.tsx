import { useState } from "react";
import { asChanges, errorText, useRefreshSamples, useVocabulary, resultOf, api } from "../../api";
import { Choice, DialogFrame, TextField } from "../../ui";
import { offerUndo } from "../common";
import { PlanFooter } from "./PlanFooter";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

const NOTHING = {
  category: "",
  subcategory: "",
  licence: "",
  author: "",
  group: "",
  add: "",
  remove: "",
};
const listOf = (text: string) =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

/** The same words for many samples; what is left empty stays as it is. */
export function ChangeDialog({ open, onClose, ids }: Props) {
  const refresh = useRefreshSamples();
  const categories = useVocabulary().data?.categories ?? {};
  const [given, setGiven] = useState(NOTHING);
  const [state, setState] = useState<{ busy: boolean; words: string | null }>({
    busy: false,
    words: null,
  });
  const put = (patch: Partial<typeof NOTHING>) => setGiven({ ...given, ...patch });
  const field = (name: keyof typeof NOTHING) => ({
    value: given[name],
    onChange: (event: React.ChangeEvent<HTMLInputElement>) => put({ [name]: event.target.value }),
  });
  const change = async () => {
    setState({ busy: true, words: null });
    const changes = {
      ...(given.category && { category: given.category, subcategory: given.subcategory }),
      ...(given.licence && { licence: given.licence }),
      ...(given.author && { author: given.author }),
      ...(given.group && { variation_group: given.group }),
    };
    try {
      const body = {
        ids,
        changes: asChanges(changes),
        add_tags: listOf(given.add),
        remove_tags: listOf(given.remove),
      };
      const made = await resultOf(api.POST("/api/samples/change", { body }));
      offerUndo(made.gesture, `${made.changed} changed`);
      await refresh();
      setGiven(NOTHING);
      setState({ busy: false, words: null });
      onClose();
    } catch (error) {
      setState({ busy: false, words: errorText(error) });
    }
  };
  return (
    <DialogFrame open={open} onClose={onClose} title={`Change ${ids.length}`} wide>
      <p className="mb-3 text-ink-2">Empty fields are not changed.</p>
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Add tags" placeholder="low, brass" autoFocus {...field("add")} />
        <TextField label="Remove tags" placeholder="dry" {...field("remove")} />
        <Choice
          label="Category"
          value={given.category}
          options={[
            ["", "unchanged"],
            ...Object.keys(categories).map((one) => [one, one] as const),
          ]}
          onChange={(category) => put({ category, subcategory: "" })}
        />
        <Choice
          label="Subcategory"
          value={given.subcategory}
          disabled={!given.category}
          options={[
            ["", "none"],
            ...(categories[given.category] ?? []).map((one) => [one, one] as const),
          ]}
          onChange={(subcategory) => put({ subcategory })}
        />
        <TextField label="Licence" {...field("licence")} />
        <TextField label="Author" {...field("author")} />
        <TextField label="Variation group" {...field("group")} />
      </div>
      <PlanFooter
        words={state.words}
        verb="Change"
        busy={state.busy}
        ready={Object.values(given).some((one) => one.trim() !== "")}
        onDo={() => void change()}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
