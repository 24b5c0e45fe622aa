import { expect, it } from "vitest";
import { deviceName } from "./deviceName";

it.each([
  ["Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0", "Firefox on Linux"],
  [
    "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36",
    "Chromium on Linux",
  ],
  [
    "Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Safari/605.1.15",
    "Safari on macOS",
  ],
  ["curl/8.5.0", "curl"],
  ["", "Unknown browser"],
])("%s is %s", (userAgent, name) => {
  expect(deviceName(userAgent)).toBe(name);
});
