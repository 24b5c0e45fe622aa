const MIDI = /\.midi?$/i;
const AUDIO = [
  ".wav",
  ".aif",
  ".aiff",
  ".flac",
  ".ogg",
  ".oga",
  ".mp3",
  ".w64",
  ".caf",
  ".au",
] as const;

export const ACCEPTED = [...AUDIO, ".mid", ".midi"].join(",");
export const isMidi = (file: { name: string }) => MIDI.test(file.name);

/** Whether a file in a folder is meant, by its ending; others lie there for other programs. */
const isAudio = ({ name }: { name: string }) =>
  !name.startsWith(".") && AUDIO.some((ending) => name.toLowerCase().endsWith(ending));

/** Files, and how many others lay beside them in folders. */
export interface Gathered {
  files: File[];
  leftOut: number;
}

// A file or a folder that cannot be read.
const UNREADABLE: Gathered = { files: [], leftOut: 1 };

// As one counts: take 2 before take 10.
const ORDER = new Intl.Collator(undefined, { numeric: true });

// What is dropped comes without the folder that it lay in.
const droppedFrom = new WeakMap<File, string>();

/** The folder that a file lay in, below what was dropped or chosen; empty without one. */
export function folderOf(file: File): string {
  const path = droppedFrom.get(file) ?? file.webkitRelativePath;
  return path.split("/").filter(Boolean).slice(0, -1).join("/");
}

/** The audio files of a folder that was chosen, in the order of their paths. */
export function audioAmong(all: readonly File[]): Gathered {
  const files = all
    .filter(isAudio)
    .sort((a, b) => ORDER.compare(a.webkitRelativePath, b.webkitRelativePath));
  return { files, leftOut: all.length - files.length };
}

const entriesOf = (folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> => {
  const reader = folder.createReader();
  const some = () =>
    new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
  // A reader gives a hundred or so at a time, and none at the end.
  const rest = async (before: FileSystemEntry[]): Promise<FileSystemEntry[]> => {
    const more = await some();
    return more.length > 0 ? rest([...before, ...more]) : before;
  };
  return rest([]);
};

/** None where it cannot be read. */
const fileOf = (entry: FileSystemFileEntry) =>
  new Promise<File | null>((done) =>
    entry.file(done, () => {
      done(null);
    }),
  );

async function within(folder: FileSystemDirectoryEntry): Promise<Gathered> {
  const entries = await entriesOf(folder).catch(() => null);
  if (entries === null) return UNREADABLE;
  const gathered: Gathered = { files: [], leftOut: 0 };
  for (const entry of entries.sort((a, b) => ORDER.compare(a.name, b.name))) {
    if (entry.isDirectory) add(gathered, await within(entry as FileSystemDirectoryEntry));
    else {
      const file = await fileOf(entry as FileSystemFileEntry);
      if (file) droppedFrom.set(file, entry.fullPath);
      add(gathered, file ? audioAmong([file]) : UNREADABLE);
    }
  }
  return gathered;
}

function add(to: Gathered, { files, leftOut }: Gathered): void {
  to.files.push(...files);
  to.leftOut += leftOut;
}

/** Files that were dropped, and the audio files of folders that were. */
export async function dropped(items: DataTransferItemList): Promise<Gathered> {
  // What was dropped can be asked for now alone, not after a pause.
  const entries = [...items].map((item) => item.webkitGetAsEntry() ?? item.getAsFile());
  const gathered: Gathered = { files: [], leftOut: 0 };
  for (const entry of entries) {
    if (entry === null) continue;
    if (entry instanceof File) gathered.files.push(entry);
    else if (entry.isDirectory) add(gathered, await within(entry as FileSystemDirectoryEntry));
    else {
      const file = await fileOf(entry as FileSystemFileEntry);
      add(gathered, file ? { files: [file], leftOut: 0 } : UNREADABLE);
    }
  }
  return gathered;
}
