/**
 * The addresses that a page wrote itself and that are still to be shown. The router shows an address
 * a moment after it was written, and someone who goes on typing is ahead of it by then.
 */
export class AddressesWritten {
  private onTheWay: string[] = [];

  note(address: string): void {
    this.onTheWay.push(address);
  }

  /** Whether an address that is shown now is one of them; those written before it were passed over. */
  takes(address: string): boolean {
    const at = this.onTheWay.lastIndexOf(address);
    this.onTheWay = at < 0 ? [] : this.onTheWay.slice(at + 1);
    return at >= 0;
  }
}
