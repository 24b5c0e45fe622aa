import { useEffect } from "react";
import { ApiError, mayPass, ownStream, wasReplaced, type Sound } from "../../api";
import { play } from "../../audio";
import { useLoop } from "../../loop";
import { holdsShown } from "./lookClosely";
import { requestAudition } from "./requestAudition";
import { needsLoudness, playbackGainDb, stepName, useBench } from "../../sound";

const DRAFT_EVERY_MS = 80;
const RETRY_MS = 2000;

type Quality = "draft" | "final";
interface Wish {
  document: Sound;
  quality: Quality;
  listen: boolean;
  /** Id of the step that is heard instead of the output. */
  at: string | null;
  /** All processors left out. */
  dry: boolean;
}

/**
 * Renders what the Bench shows. One request at a time: while one is under way only the newest
 * wish waits, so a drag neither queues up stale renders nor leaves its last state unheard.
 */
class Auditioner {
  private waiting: Wish | null = null;
  private busy = false;
  private stopped = false;
  private lastDraftAt = 0;
  private timer: number | undefined;
  private closer: AbortController | null = null;
  private readonly stream = ownStream("audition");

  ask(wish: Wish): void {
    this.waiting = wish;
    this.tell();
    this.pump();
  }

  stop(): void {
    this.stopped = true;
    this.waiting = null;
    this.closer?.abort();
    window.clearTimeout(this.timer);
    useBench.setState({ rendering: false });
  }

  private tell(): void {
    // Another one may be at work by now.
    if (this.stopped) return;
    const rendering = this.busy || this.waiting !== null;
    if (useBench.getState().rendering !== rendering) useBench.setState({ rendering });
  }

  private pump(): void {
    if (this.busy || !this.waiting) return;
    const pause =
      this.waiting.quality === "draft" ? this.lastDraftAt + DRAFT_EVERY_MS - performance.now() : 0;
    window.clearTimeout(this.timer);
    if (pause > 0) {
      this.timer = window.setTimeout(() => this.pump(), pause);
      return;
    }
    const wish = this.waiting;
    this.waiting = null;
    this.busy = true;
    if (wish.quality === "draft") this.lastDraftAt = performance.now();
    void this.render(wish).finally(() => {
      this.busy = false;
      this.pump();
      this.tell();
    });
  }

  /** Done once pictures are shown; the closer look goes on until something newer begins. */
  private render(wish: Wish): Promise<void> {
    this.closer?.abort();
    const control = new AbortController();
    this.closer = control;
    return new Promise((resolve, reject) => {
      let shown = false;
      const show = () => {
        shown = true;
        resolve();
      };
      this.request(wish, control.signal, show).catch((error: unknown) =>
        // Without the closer look the pictures keep what they showed.
        shown ? undefined : this.fail(wish, error).then(resolve, reject),
      );
    });
  }

  private async request(wish: Wish, signal: AbortSignal, shown: () => void): Promise<void> {
    const { document, quality, at, dry } = wish;
    const soundId = useBench.getState().opened?.id ?? null;
    const details = quality === "final" ? { details: { holds: holdsShown() } } : {};
    const how = { quality, at, dry, soundId, stream: this.stream, signal, ...details };
    const heard = { done: !wish.listen };
    const hear = (audio: AudioBuffer, digest: string, gainDb: number) => {
      if (heard.done || this.waiting?.quality === "final") return;
      heard.done = true;
      play(audio, digest, gainDb);
    };
    let held: { audio: AudioBuffer; digest: string } | null = null;
    await requestAudition(document, how, {
      onAudio: (audio, digest) => {
        held = { audio, digest };
        // Where it is played as loud as something else, its loudness has to be known first.
        if (!needsLoudness(document)) hear(audio, digest, 0);
      },
      onPictures: (answer) => {
        if (this.waiting?.quality !== "final") {
          if (held)
            hear(held.audio, held.digest, playbackGainDb(document, answer.measures.loudness_lufs));
          useBench.setState({ audition: answer, shown: document, auditionProblem: null });
        }
        shown();
      },
      onDetails: (details) => {
        if (useBench.getState().document === document) useBench.setState({ details });
      },
    });
  }

  private async fail(wish: Wish, error: unknown): Promise<void> {
    // Cancelled on purpose.
    if (error instanceof DOMException && error.name === "AbortError") return;
    if (!(error instanceof ApiError)) throw error;
    useBench.setState({ auditionProblem: error.message });
    if ((mayPass(error) || wasReplaced(error)) && !this.stopped)
      await this.pauseBeforeRetry({ ...wish, listen: false });
  }

  /** Nothing newer to do: the same wish waits and is tried again. */
  private async pauseBeforeRetry(wish: Wish): Promise<void> {
    await new Promise((done) => window.setTimeout(done, RETRY_MS));
    if (!this.stopped) this.waiting ??= wish;
  }
}

/** Keep the audition current with the document, and let each change sound if asked. */
export function useAudition(): void {
  useEffect(() => {
    const auditioner = new Auditioner();
    let first = true;
    const look = () => {
      const { document, gesture, listen, listenAt, effectsOff } = useBench.getState();
      if (!document) return;
      // A step that was removed meanwhile is no place to listen at.
      const at = listenAt !== null && stepName(document, listenAt) !== null ? listenAt : null;
      if (at !== listenAt) useBench.setState({ listenAt: null });
      const quality = gesture ? "draft" : "final";
      // While the loop plays, what is edited is heard in it.
      const aloud = listen && !first && !useLoop.getState().playing;
      auditioner.ask({ document, quality, listen: aloud, at, dry: effectsOff });
      first = false;
    };
    look();
    const leave = useBench.subscribe((state, before) => {
      if (state.opened?.id !== before.opened?.id) first = true;
      const another =
        state.document !== before.document ||
        state.listenAt !== before.listenAt ||
        state.effectsOff !== before.effectsOff;
      if (another || (before.gesture && !state.gesture)) look();
    });
    return () => {
      leave();
      auditioner.stop();
    };
  }, []);
}
