import { create } from "zustand";
import { ACCEPTED, audioAmong, type Gathered } from "./folders";

/** Files that were dropped or chosen, until it is said where they go. */
export const useBringing = create<{ gathered: Gathered | null }>(() => ({ gathered: null }));

export const bringFiles = (gathered: Gathered) =>
  useBringing.setState({
    gathered: gathered.files.length > 0 || gathered.leftOut > 0 ? gathered : null,
  });

export const letFilesBe = () => useBringing.setState({ gathered: null });

function choose(input: HTMLInputElement, gather: (files: File[]) => Gathered): void {
  input.type = "file";
  input.multiple = true;
  input.onchange = () => bringFiles(gather([...(input.files ?? [])]));
  input.click();
}

/** Ask for files with the system's own dialog. */
export function chooseFiles(): void {
  const input = document.createElement("input");
  input.accept = ACCEPTED;
  choose(input, (files) => ({ files, leftOut: 0 }));
}

/** Ask for a folder with the system's own dialog. */
export function chooseFolder(): void {
  const input = document.createElement("input");
  input.webkitdirectory = true;
  choose(input, audioAmong);
}
