import { useState } from "react";
import { asChanges, errorText, useRefreshSamples, useVocabulary, resultOf, api } from "../../api";
import { Choice, DialogFrame, TextField } from "../../ui";
import { offerUndo } from "../common";
import { changesTyped, CLEARED, listOf, NOTHING_TYPED, type Typed } from "./changesTyped";
import { PlanFooter } from "./PlanFooter";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
  /** Where they are; none where they are of several libraries. */
  library: number | undefined;
}

const YES_NO = [
  ["", "unchanged"],
  ["yes", "yes"],
  ["no", "no"],
] as const;
const RATINGS: (readonly [string, string])[] = [
  ["", "unchanged"],
  ["0", "none"],
  ...[1, 2, 3, 4, 5].map((one) => [`${one}`, "◆".repeat(one)] as const),
];

/** The same words for many samples; what is left empty stays as it is. */
export function ChangeDialog({ open, onClose, ids, library }: Props) {
  const refresh = useRefreshSamples();
  const categories = useVocabulary(library).data?.categories ?? {};
  const [given, setGiven] = useState(NOTHING_TYPED);
  const [state, setState] = useState<{ busy: boolean; words: string | null }>({
    busy: false,
    words: null,
  });
  const put = (patch: Partial<Typed>) => setGiven({ ...given, ...patch });
  const { changes, problems } = changesTyped(given);
  const field = (name: keyof Typed) => ({
    value: given[name],
    problem: problems[name] ?? null,
    onChange: (event: React.ChangeEvent<HTMLInputElement>) => put({ [name]: event.target.value }),
  });
  const change = async () => {
    setState({ busy: true, words: null });
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
      setGiven(NOTHING_TYPED);
      setState({ busy: false, words: null });
      onClose();
    } catch (error) {
      setState({ busy: false, words: errorText(error) });
    }
  };
  return (
    <DialogFrame open={open} onClose={onClose} title={`Change ${ids.length}`} wide>
      <p className="mb-3 text-ink-2">Empty fields are not changed; {CLEARED} clears a field.</p>
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
        <TextField label="Folder" {...field("folder")} />
        <TextField label="Root note" figure placeholder="F#2" {...field("note")} />
        <TextField label="Tempo, bpm" figure placeholder="120" {...field("tempo")} />
        <Choice
          label="Rating"
          value={given.rating}
          options={RATINGS}
          onChange={(rating) => put({ rating })}
        />
        <Choice
          label="Follows the key"
          value={given.followsKey}
          options={YES_NO}
          onChange={(followsKey) => put({ followsKey })}
        />
        <TextField label="Description" className="col-span-2" {...field("description")} />
      </div>
      <PlanFooter
        words={state.words}
        verb="Change"
        busy={state.busy}
        ready={
          Object.values(given).some((one) => one.trim() !== "") &&
          Object.keys(problems).length === 0
        }
        onDo={() => void change()}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
