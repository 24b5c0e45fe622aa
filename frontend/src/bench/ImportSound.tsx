import { FileJson } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { errorText, libraryForNewSounds } from "../api";
import { sendFile } from "../imports";

/** A sound from its file, opened once it is there. */
export function ImportSound() {
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const bring = async (file: File) => {
    setProblem(null);
    try {
      const { id } = await libraryForNewSounds();
      const path = `/api/libraries/${id}/sounds`;
      const made = await sendFile<{ sound_id: number }>(path, file, () => undefined);
      await navigate(`/bench/${made.sound_id}`);
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <>
      <label className="inline-flex min-h-8 cursor-pointer items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-3 text-[13px] font-medium whitespace-nowrap focus-within:outline-2 hover:bg-band">
        <FileJson size={15} aria-hidden /> Import a sound…
        <input
          type="file"
          accept=".json,.zip"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void bring(file);
            event.target.value = "";
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="w-full text-bad">
          {problem}
        </p>
      )}
    </>
  );
}
