import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, resultOf } from "../api";
import { DialogFrame, TextField } from "../ui";

interface Props {
  open: boolean;
  title: string;
  onClose: () => void;
  onPick: (sound: number) => void;
}

/** A sound of one's libraries, found by typing. */
export function SoundPicker({ open, title, onClose, onPick }: Props) {
  const [words, setWords] = useState("");
  const sounds = useQuery({
    queryKey: ["sounds"],
    enabled: open,
    queryFn: async () => (await resultOf(api.GET("/api/sounds"))).sounds,
  });
  const found = sounds.data?.filter(({ name }) => name.toLowerCase().includes(words.toLowerCase()));
  return (
    <DialogFrame open={open} onClose={onClose} title={title}>
      <TextField
        label="Find a sound"
        autoFocus
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <ul className="mt-2 max-h-[46dvh] overflow-y-auto">
        {found?.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className="flex w-full items-baseline gap-2 rounded-sm px-2 py-1.5 text-left hover:bg-band"
              onClick={() => onPick(one.id)}
            >
              <span className="min-w-0 truncate">{one.name}</span>
              <span className="ml-auto shrink-0 text-[12px] text-ink-2">{one.library_name}</span>
            </button>
          </li>
        ))}
        {found?.length === 0 && <li className="p-2 text-ink-2">No sound has this in its name.</li>}
      </ul>
    </DialogFrame>
  );
}
