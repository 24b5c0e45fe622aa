import { expect, test } from "vitest";
import { noteSession, noteSignedOut, useSignedOut } from "./signedOut";

const signedOut = () => useSignedOut.getState().signedOut;

test("someone who was signed in is asked to sign in again", () => {
  noteSession(true);
  noteSignedOut();
  expect(signedOut()).toBe(true);
  noteSession(true);
  expect(signedOut()).toBe(false);
});

test("someone who signed out, or never was in, is not", () => {
  noteSession(false);
  noteSignedOut();
  expect(signedOut()).toBe(false);
});
