/** What is sent while a page is being left arrives all the same. */

// Browsers carry 64 KiB of bodies past the end of a page; what is larger is sent the ordinary way.
const MOST_CARRIED = 60_000;

let leaving = false;

/** Notice when the page is left; call it before anything that saves when it hears the same. */
export function watchLeaving(page: EventTarget = window): void {
  page.addEventListener("pagehide", () => (leaving = true));
  page.addEventListener("pageshow", () => (leaving = false));
}

/** A request that outlives its page where the page is being left. */
export class LastingRequest extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    const body = init?.body;
    const carried = leaving && (body == null || String(body).length <= MOST_CARRIED);
    super(input, carried ? { ...init, keepalive: true } : init);
  }
}
