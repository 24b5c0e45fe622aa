import { expect, test } from "vitest";
import { AddressesWritten } from "./addressesWritten";

test("an address that the page wrote is known once, and what was written before it is passed over", () => {
  const written = new AddressesWritten();
  written.note("words=be");
  written.note("words=bel");
  expect(written.takes("words=bel")).toBe(true);
  expect(written.takes("words=be")).toBe(false);
  expect(written.takes("words=bel")).toBe(false);
});

test("what was written later is still on its way", () => {
  const written = new AddressesWritten();
  written.note("words=be");
  written.note("words=bel");
  expect(written.takes("words=be")).toBe(true);
  expect(written.takes("words=bel")).toBe(true);
});

test("after an address of somebody else none is on its way", () => {
  const written = new AddressesWritten();
  expect(written.takes("words=kick")).toBe(false);
  written.note("words=bell");
  expect(written.takes("words=kick")).toBe(false);
  expect(written.takes("words=bell")).toBe(false);
});
