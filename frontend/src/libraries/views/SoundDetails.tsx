import { useVocabulary, wordsWith, type SoundItem } from "../../api";
import { Choice } from "../../ui";
import { SavedField, TagField } from "../common";

interface Props {
  sound: SoundItem;
  editable: boolean;
  /** Answers whether it was saved. */
  onSave: (body: { category?: string; tags?: string[]; description?: string }) => Promise<boolean>;
}

/** A sound's details. */
export function SoundDetails({ sound, editable, onSave }: Props) {
  const categories = useVocabulary(sound.library_id).data?.categories ?? {};
  return (
    <aside
      aria-label="Sound"
      className="grid min-w-0 flex-1 content-start gap-3 overflow-y-auto border-l border-line-strong bg-panel p-3.5"
    >
      <h3 className="font-title text-[16px] font-semibold break-words">{sound.name}</h3>
      <Choice
        label="Category"
        value={sound.category}
        disabled={!editable}
        options={[
          ["", "none"],
          ...wordsWith(Object.keys(categories), sound.category).map((one) => [one, one] as const),
        ]}
        onChange={(category) => void onSave({ category })}
      />
      <TagField
        tags={sound.tags}
        suggested={[]}
        editable={editable}
        problem={null}
        onTags={(tags) => void onSave({ tags })}
      />
      <SavedField
        label="Description"
        long
        value={sound.description}
        editable={editable}
        problem={null}
        onSave={(description) => onSave({ description })}
      />
    </aside>
  );
}
