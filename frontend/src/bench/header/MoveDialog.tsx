import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, errorText, mayDo, resultOf, useLibraries } from "../../api";
import { saveNow, useBench } from "../../sound";
import { Button, DialogFrame } from "../../ui";

interface Props {
  open: boolean;
  onClose: () => void;
}

/** Puts the open sound into another library, or a private draft into the one that it was made for. */
export function MoveDialog({ open, onClose }: Props) {
  const opened = useBench((state) => state.opened);
  const libraries = useLibraries();
  const queries = useQueryClient();
  const [problem, setProblem] = useState<unknown>(null);
  const places = (libraries.data ?? []).filter(
    (one) => mayDo(one, "sound.edit") && (opened?.isPrivate || one.id !== opened?.libraryId),
  );
  const move = async (library_id: number) => {
    if (!opened) return;
    try {
      await saveNow();
      const params = { path: { sound_id: opened.id } };
      const request = api.PUT("/api/sounds/{sound_id}/library", { params, body: { library_id } });
      const { library_id: libraryId, library_name: libraryName } = await resultOf(request);
      if (useBench.getState().opened?.id === opened.id)
        useBench.setState({ opened: { ...opened, libraryId, libraryName, isPrivate: false } });
      await queries.invalidateQueries({ queryKey: ["sounds"] });
      setProblem(null);
      onClose();
    } catch (error) {
      setProblem(error);
    }
  };
  return (
    <DialogFrame open={open} onClose={onClose} title="Move to library">
      <p className="mb-3 text-ink-2">
        {opened?.isPrivate
          ? "Only you see this draft. In a library its members see it."
          : `The sound leaves ${opened?.libraryName ?? "its library"}; samples made from it stay there.`}
      </p>
      {!opened?.editable && (
        <p>You may listen to this sound, but not move it. Save a copy first.</p>
      )}
      {opened?.editable && places.length === 0 && (
        <p>There is no other library you can add to. Make one under Libraries.</p>
      )}
      {opened?.editable && (
        <ul className="grid gap-1.5">
          {places.map(({ id, name, samples }) => (
            <li key={id}>
              <Button
                className="w-full justify-between"
                onClick={() => void move(id)}
                autoFocus={id === opened.libraryId}
              >
                {name}
                <span className="text-[12px] text-ink-2">{samples} samples</span>
              </Button>
            </li>
          ))}
        </ul>
      )}
      {problem !== null && (
        <p role="alert" className="mt-2 text-bad">
          {errorText(problem)}
        </p>
      )}
    </DialogFrame>
  );
}
