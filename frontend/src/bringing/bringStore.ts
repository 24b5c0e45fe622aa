import { create } from "zustand";

/** Files that were dropped or chosen, until it is said where they go. */
export const useBringing = create<{ files: File[] | null }>(() => ({ files: null }));

export const bringFiles = (files: File[]) =>
  useBringing.setState({ files: files.length > 0 ? files : null });

const MIDI = /\.midi?$/i;
export const isMidi = (file: File) => MIDI.test(file.name);

const AUDIO = ".wav,.aif,.aiff,.flac,.ogg,.oga,.mp3,.w64,.caf,.au";
export const ACCEPTED = `${AUDIO},.mid,.midi`;

/** Ask for files with the system's own dialog. */
export function chooseFiles(): void {
  const input = document.createElement("input");
  input.type = "file";
  input.multiple = true;
  input.accept = ACCEPTED;
  input.onchange = () => bringFiles([...(input.files ?? [])]);
  input.click();
}
