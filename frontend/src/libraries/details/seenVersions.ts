/**
 * On which version of a sample a change is made, where the page may not have read the newest yet:
 * one's own saves, and what was shown when two people's values were chosen from, have been seen.
 */
export class SeenVersions {
  /** Which version one's own save made of another, where nobody else came in between. */
  private readonly own = new Map<number, number>();
  private chosenAt = 0;

  /** The newest version seen together with ``version``. */
  newest(version: number): number {
    let newest = Math.max(version, this.chosenAt);
    for (let next = this.own.get(newest); next !== undefined; next = this.own.get(newest))
      newest = next;
    return newest;
  }

  /** A change of one's own was saved on top of ``base``. */
  saved(base: number, version: number): void {
    // Each change raises it by one: more than that is someone else's, which was not seen.
    if (version === base + 1) this.own.set(base, version);
  }

  /** One of two people's values was chosen, as they were at ``version``. */
  chosen(version: number): void {
    this.chosenAt = Math.max(this.chosenAt, version);
  }
}
