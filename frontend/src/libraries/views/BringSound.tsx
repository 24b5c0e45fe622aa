import { useQueryClient } from "@tanstack/react-query";

/** A sound from its file, brought into the library. */
export function BringSound({
  libraryId,
  onTold,
}: {
  libraryId: number;
  onTold: (words: string) => void;
}) {
  const queries = useQueryClient();
  const bring = async (file: File) => {
    const body = new FormData();
    body.append("file", file);
    try {
      const response = await fetch(`/api/libraries/${libraryId}/sounds`, { method: "POST", body });
      const { detail } = (await response.json()) as { detail?: string };
      onTold(response.ok ? `${file.name} is in the library` : (detail ?? "It cannot be read"));
    } catch {
      onTold("The server does not answer");
    }
    await queries.invalidateQueries({ queryKey: ["sounds"] });
  };
  return (
    <label className="inline-flex min-h-8 cursor-pointer items-center rounded-control border border-line-strong bg-sheet px-3 hover:bg-band">
      Import a sound…
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
  );
}
