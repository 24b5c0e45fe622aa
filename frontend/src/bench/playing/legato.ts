import type { FurtherNote } from "../../api";
import type { HeldHit, RenderHeld } from "../../audio";

/**
 * Keys played into each other: one voice that slides to the newest key, and back to an older one
 * that is still held when the newest is let go.
 */
export class LegatoLine {
  /** Keys that are held, oldest first. */
  notes: number[];
  private line: FurtherNote[] = [];
  private sounding: number;

  constructor(
    first: number,
    private readonly hit: HeldHit,
    private readonly rendering: (further: FurtherNote[]) => RenderHeld,
  ) {
    this.notes = [first];
    this.sounding = first;
  }

  press(note: number): void {
    if (this.notes.includes(note)) return;
    this.notes = [...this.notes, note];
    this.slideTo(note);
  }

  /** Let a key go; true where none is held any more. */
  letGo(note: number): boolean {
    this.notes = this.notes.filter((one) => one !== note);
    const newest = this.notes.at(-1);
    if (newest === undefined) {
      void this.hit.release();
      return true;
    }
    if (newest !== this.sounding) this.slideTo(newest);
    return false;
  }

  private slideTo(note: number): void {
    this.sounding = note;
    void this.hit.turn((at_s) => {
      this.line = [...this.line, { note, at_s }].slice(-15);
      return this.rendering(this.line);
    });
  }
}
