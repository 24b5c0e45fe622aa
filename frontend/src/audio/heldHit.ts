import { startVoice, type Voice } from "./player";

/** Renders one hit held for so long. */
export type RenderHeld = (holdS: number) => Promise<AudioBuffer>;

/** What is asked for first while nobody knows how long the hold will be, and then ever longer. */
const FIRST_HOLD_S = 2;
const LONGEST_HOLD_S = 60;

/** What a key gives that was let go before it could sound, and from when on it is held. */
const TAP_S = 0.03;
const NO_TAP_S = 0.25;

/** How long a render took lately, so that a release can be placed where it will be ready. */
let renderTimeS = 0.05;

async function timed(render: RenderHeld, holdS: number): Promise<AudioBuffer> {
  const began = performance.now();
  const buffer = await render(holdS);
  renderTimeS = 0.7 * renderTimeS + 0.3 * Math.min(1, (performance.now() - began) / 1000);
  return buffer;
}

/**
 * A hit that is held as long as its key: renders of the same hit are alike up to the end of the
 * shorter one's hold, so playback goes over from one to the other there without a seam.
 */
export class HeldHit {
  private voice: Voice | null = null;
  private timer: number | undefined;
  private heldForS = FIRST_HOLD_S;
  private released = false;
  private leastS = 0;

  constructor(
    private render: RenderHeld,
    private readonly gainDb = 0,
  ) {}

  /** Begin to sound as soon as the first render is there; at the latest then it can be let go. */
  async start(): Promise<void> {
    const buffer = await timed(this.render, this.heldForS);
    if (this.released) {
      // Let go before it could sound: a tap.
      this.voice = startVoice(await timed(this.render, TAP_S), { gainDb: this.gainDb });
      return;
    }
    this.voice = startVoice(buffer, { gainDb: this.gainDb });
    this.extendInTime();
  }

  /** Take over a voice that plays a render held for ``holdS``; let go earlier, it still holds so. */
  static taking(voice: Voice, holdS: number, render: RenderHeld): HeldHit {
    const held = new HeldHit(render);
    held.voice = voice;
    held.heldForS = held.leastS = holdS;
    held.extendInTime();
    return held;
  }

  /** Ask for a longer hold a little before the present one ends. */
  private extendInTime(): void {
    const voice = this.voice;
    if (!voice || this.heldForS >= LONGEST_HOLD_S) return;
    const leadS = Math.max(0.12, 3 * renderTimeS);
    const untilS = Math.max(this.heldForS - leadS, NO_TAP_S);
    const waitS = Math.max(0, untilS - voice.position());
    this.timer = window.setTimeout(() => void this.extend(voice), waitS * 1000);
  }

  private async extend(voice: Voice): Promise<void> {
    const nextS = Math.min(LONGEST_HOLD_S, Math.max(FIRST_HOLD_S, 4 * this.heldForS));
    try {
      const buffer = await timed(this.render, nextS);
      if (this.released) return;
      voice.goOnIn(buffer, this.heldForS - 0.02);
      this.heldForS = nextS;
      this.extendInTime();
    } catch {
      // It goes on as it was rendered; the audition says what is wrong.
    }
  }

  /** The key was let go: go over to a render that is held for as long as this was. */
  async release(): Promise<void> {
    if (this.released) return;
    this.released = true;
    window.clearTimeout(this.timer);
    const voice = this.voice;
    if (!voice) return;
    const heldS = Number((voice.position() + renderTimeS + 0.015).toFixed(3));
    const holdS = Math.max(this.leastS, heldS);
    if (holdS >= this.heldForS) return;
    try {
      voice.goOnIn(await timed(this.render, holdS), holdS - 0.008);
    } catch {
      voice.stop();
    }
  }

  /** Go on in another rendering of the same hit, which differs only from ``atS`` on. */
  async turn(renderingFrom: (atS: number) => RenderHeld): Promise<void> {
    const position = this.voice?.position() ?? 0;
    const atS = Number((position + renderTimeS + 0.02).toFixed(3));
    this.render = renderingFrom(atS);
    if (!this.voice || this.released) return;
    try {
      const buffer = await timed(this.render, this.heldForS);
      if (!this.released) this.voice.goOnIn(buffer, atS - 0.002);
    } catch {
      // It goes on as it was; the audition says what is wrong.
    }
  }

  stop(): void {
    this.released = true;
    window.clearTimeout(this.timer);
    this.voice?.stop();
  }
}
