import { afterEach, describe, expect, it } from "vitest";
import { LastingRequest, watchLeaving } from "./leaving";

const URL = "http://nest.example/api/tryouts/1";
const put = (body: string) => new LastingRequest(URL, { method: "PUT", body });

describe("a request while its page is left", () => {
  const page = new EventTarget();
  watchLeaving(page);
  afterEach(() => void page.dispatchEvent(new Event("pageshow")));

  it("outlives the page only then", () => {
    expect(put("{}").keepalive).toBe(false);
    page.dispatchEvent(new Event("pagehide"));
    expect(put("{}").keepalive).toBe(true);
    page.dispatchEvent(new Event("pageshow"));
    expect(put("{}").keepalive).toBe(false);
  });

  it("is sent the ordinary way where a browser would refuse to carry it", () => {
    page.dispatchEvent(new Event("pagehide"));
    expect(put("x".repeat(70_000)).keepalive).toBe(false);
  });
});
