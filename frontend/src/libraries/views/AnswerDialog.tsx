import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { EMPTY_QUERY, searchPage, useSounds } from "../../api";
import { Button, DialogFrame, TextField } from "../../ui";
import { HeardRow } from "../common";
import { matchesWords } from "./matchesWords";

export type Answer = { sample_id: number; sound_id: null } | { sample_id: null; sound_id: number };

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  libraryId: number;
  onAnswer: (answer: Answer) => void;
}

const SHOWN = 6;

/** What answers a wish: a sample or a sound of the library, found by typing and heard first. */
export function AnswerDialog({ open, onClose, title, libraryId, onAnswer }: Props) {
  const [words, setWords] = useState("");
  const asked = useDeferredValue(words);
  const samples = useQuery({
    ...searchPage({ ...EMPTY_QUERY, libraries: [libraryId], words: asked }, 0),
    placeholderData: keepPreviousData,
    enabled: open,
  }).data?.samples;
  const sounds = useSounds().data?.filter(
    (sound) => sound.library_id === libraryId && matchesWords(sound, words),
  );
  const give = (answer: Answer) => {
    onAnswer(answer);
    onClose();
  };
  return (
    <DialogFrame open={open} onClose={onClose} title={`Answer “${title}”`} wide>
      <TextField
        label="Find an answer"
        placeholder="by name, tag or description"
        autoFocus
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <div className="mt-3 grid max-h-[340px] gap-3 overflow-y-auto">
        <Part title="Samples" empty="No samples match.">
          {samples?.slice(0, SHOWN).map((sample) => (
            <HeardRow key={sample.id} sample={sample}>
              <Button onClick={() => give({ sample_id: sample.id, sound_id: null })}>
                Answer with it
              </Button>
            </HeardRow>
          ))}
        </Part>
        <Part title="Sounds" empty="No sounds match.">
          {sounds?.slice(0, SHOWN).map((sound) => (
            <li key={sound.id} className="flex items-center gap-3 border-b border-line py-1">
              <span className="min-w-0 flex-1 truncate font-medium">{sound.name}</span>
              <span className="text-[12px] text-ink-2">{sound.category}</span>
              <Button onClick={() => give({ sample_id: null, sound_id: sound.id })}>
                Answer with it
              </Button>
            </li>
          ))}
        </Part>
      </div>
      <div className="mt-4 flex justify-end">
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </DialogFrame>
  );
}

interface PartProps {
  title: string;
  empty: string;
  children: React.ReactNode[] | undefined;
}

function Part({ title, empty, children }: PartProps) {
  return (
    <section aria-label={title}>
      <h3 className="mb-0.5 text-[11.5px] font-semibold text-ink-2">{title}</h3>
      {children?.length === 0 ? <p className="text-ink-2">{empty}</p> : <ul>{children}</ul>}
    </section>
  );
}
