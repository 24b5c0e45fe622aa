import { describe, expect, it } from "vitest";
import { audioAmong, dropped, isMidi } from "./folders";

const file = (name: string, path = "") => ({ name, webkitRelativePath: path }) as File;
const chosen = (name: string) => file(name, `Shed/${name}`);

const asFile = (name: string) => ({
  isFile: true,
  isDirectory: false,
  name,
  file: (done: (made: File) => void) => done(file(name)),
});

/** A folder whose reader gives two entries at a time, as browsers give a hundred. */
const asFolder = (name: string, entries: { name: string }[]) => ({
  isFile: false,
  isDirectory: true,
  name,
  createReader: () => {
    let at = 0;
    return {
      readEntries: (done: (some: unknown[]) => void) => done(entries.slice(at, (at += 2))),
    };
  },
});

const items = (entries: object[]) =>
  entries.map((entry) => ({ webkitGetAsEntry: () => entry })) as unknown as DataTransferItemList;

describe("what is dropped", () => {
  it("takes files as they are, for the server to judge", async () => {
    const gathered = await dropped(items([asFile("a.wav"), asFile("words.txt")]));
    expect(gathered.files.map(({ name }) => name)).toEqual(["a.wav", "words.txt"]);
    expect(gathered.leftOut).toBe(0);
  });

  it("takes the audio of folders in folders, in order, and counts the rest", async () => {
    const inner = asFolder("Inner", [asFile("z.FLAC"), asFile(".hidden.wav"), asFile("a.ogg")]);
    const outer = asFolder("Outer", [asFile("notes.csv"), inner, asFile("b.wav")]);
    const gathered = await dropped(items([outer, asFolder("Empty", [])]));
    expect(gathered.files.map(({ name }) => name)).toEqual(["b.wav", "a.ogg", "z.FLAC"]);
    expect(gathered.leftOut).toBe(2);
  });
});

describe("what is dropped and cannot be read", () => {
  it("is counted, and holds up nothing", async () => {
    const refuse = (_done: unknown, failed: (reason: Error) => void) => failed(new Error("gone"));
    const torn = { ...asFile("torn.wav"), file: refuse };
    const locked = { ...asFolder("Locked", []), createReader: () => ({ readEntries: refuse }) };
    const outer = asFolder("Outer", [torn, locked, asFile("b.wav")]);
    const gathered = await dropped(items([torn, outer]));
    expect(gathered.files.map(({ name }) => name)).toEqual(["b.wav"]);
    expect(gathered.leftOut).toBe(3);
  });
});

describe("what is dropped where no entries are given", () => {
  it("is taken as files; words are not", async () => {
    const given = new File([], "a.wav");
    const each = [given, null].map((one) => ({
      webkitGetAsEntry: () => null,
      getAsFile: () => one,
    }));
    const gathered = await dropped(each as unknown as DataTransferItemList);
    expect(gathered).toEqual({ files: [given], leftOut: 0 });
  });
});

describe("files by their endings", () => {
  it("knows audio, and MIDI", () => {
    const all = ["a.aiff", "b.mid", "c.sfz", "D.Wav"].map(chosen);
    expect(audioAmong(all)).toEqual({ files: [all[0], all[3]], leftOut: 2 });
    const takes = ["Take 10.wav", "Take 2.wav"].map(chosen);
    expect(audioAmong(takes).files).toEqual([takes[1], takes[0]]);
    expect(all.map(isMidi)).toEqual([false, true, false, false]);
  });
});
