import { FileJson } from "lucide-react";
import { useQueryClient } from "@tanstack/react-query";
import { errorText } from "../api";
import { sendFile } from "./upload";

interface Props {
  /** The library that the sound comes into, asked for once a file is chosen. */
  libraryId: () => Promise<number>;
  onImported: (soundId: number, fileName: string) => void;
  onProblem: (words: string) => void;
}

/** A sound from its file: a document, or an archive with its recordings. */
export function SoundFileButton({ libraryId, onImported, onProblem }: Props) {
  const queries = useQueryClient();
  const send = async (file: File) => {
    try {
      const url = `/api/libraries/${await libraryId()}/sounds`;
      const { sound_id } = await sendFile<{ sound_id: number }>(url, file, () => undefined);
      await queries.invalidateQueries({ queryKey: ["sounds"] });
      onImported(sound_id, file.name);
    } catch (error) {
      onProblem(errorText(error));
    }
  };
  return (
    <label className="inline-flex min-h-8 cursor-pointer items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-3 text-[13px] font-medium whitespace-nowrap focus-within:outline-2 hover:bg-band">
      <FileJson size={15} aria-hidden /> Import a sound…
      <input
        type="file"
        accept=".json,.zip"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void send(file);
          event.target.value = "";
        }}
      />
    </label>
  );
}
