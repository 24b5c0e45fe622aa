/** One part of an answer in several (multipart/mixed, RFC 2046). */
export interface AnswerPart {
  name: string;
  /** Of a file: its name without ending. */
  digest: string;
  data: Uint8Array<ArrayBuffer>;
}

const HEAD_END = [13, 10, 13, 10];

/** Reads parts as they arrive; each says its length, so their bytes are not searched. */
export class PartReader {
  private held = new Uint8Array(0);

  /** The parts that are whole with these bytes. */
  feed(more: Uint8Array): AnswerPart[] {
    const joined = new Uint8Array(this.held.length + more.length);
    joined.set(this.held);
    joined.set(more, this.held.length);
    this.held = joined;
    const whole: AnswerPart[] = [];
    for (let part = this.next(); part; part = this.next()) whole.push(part);
    return whole;
  }

  private next(): AnswerPart | null {
    const headEnd = indexOf(this.held, HEAD_END);
    if (headEnd < 0) return null;
    const head = new TextDecoder().decode(this.held.subarray(0, headEnd));
    const length = Number(/content-length: (\d+)/i.exec(head)?.[1] ?? 0);
    const begin = headEnd + HEAD_END.length;
    if (this.held.length < begin + length) return null;
    const data = this.held.slice(begin, begin + length);
    this.held = this.held.slice(begin + length);
    const name = /name="([^"]*)"/.exec(head)?.[1] ?? "";
    const digest = /filename="([^".]*)/.exec(head)?.[1] ?? "";
    return { name, digest, data };
  }
}

function indexOf(bytes: Uint8Array, wanted: number[]): number {
  for (let at = 0; at + wanted.length <= bytes.length; at++)
    if (wanted.every((byte, n) => bytes[at + n] === byte)) return at;
  return -1;
}
