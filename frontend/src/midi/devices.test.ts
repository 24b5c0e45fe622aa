import { afterEach, describe, expect, it, vi } from "vitest";
import { handleMidi, playNotes } from "./devices";

const bytes = (...values: number[]) => new Uint8Array(values);

describe("notes of a device", () => {
  const bench = { on: vi.fn(), off: vi.fn() };
  const pads = { on: vi.fn() };
  afterEach(() => vi.clearAllMocks());

  it("go to the screen that plays now, on any channel", () => {
    const leave = playNotes(bench);
    handleMidi(bytes(0x93, 60, 100));
    expect(bench.on).toHaveBeenCalledExactlyOnceWith(60, 100);
    leave();
    const leavePads = playNotes(pads);
    handleMidi(bytes(0x90, 36, 20));
    leavePads();
    expect(bench.on).toHaveBeenCalledOnce();
    expect(pads.on).toHaveBeenCalledExactlyOnceWith(36, 20);
  });

  it("end by a note off or by one of velocity 0; pads hear no end", () => {
    const leave = [playNotes(bench), playNotes(pads)];
    handleMidi(bytes(0x80, 60, 64));
    handleMidi(bytes(0x90, 61, 0));
    leave.forEach((one) => one());
    expect(bench.off.mock.calls).toEqual([[60], [61]]);
    expect(pads.on).not.toHaveBeenCalled();
  });

  it("are nothing where the message is none", () => {
    const leave = playNotes(bench);
    handleMidi(bytes(0xb0, 1, 64));
    handleMidi(null);
    leave();
    expect(bench.on).not.toHaveBeenCalled();
    expect(bench.off).not.toHaveBeenCalled();
  });
});
