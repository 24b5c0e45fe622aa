import { useEffect, useRef, useState } from "react";
import { succeeded } from "./catalogue";
import { resultOf, api } from "./client";
import type { components } from "./generated/schema";

export type WorkProgress = components["schemas"]["ProgressBody"];
/** To be sent with a request, so that it can be watched. */
export type WorkHeaders = { "X-Progress": string };

const ASK_EVERY_MS = 400;

const newKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
    byte.toString(16).padStart(2, "0"),
  ).join("");

const pathOf = (key: string) => ({ params: { path: { key } } });

/** A request that may take long: how far it is while it is under way, and a way to stop it. */
export function useWork() {
  const [progress, setProgress] = useState<WorkProgress | null>(null);
  const running = useRef<string | null>(null);
  const asking = useRef<ReturnType<typeof setInterval> | undefined>(undefined);
  useEffect(() => () => clearInterval(asking.current), []);

  const run = async <Answer>(request: (headers: WorkHeaders) => Promise<Answer>) => {
    const key = newKey();
    running.current = key;
    clearInterval(asking.current);
    asking.current = setInterval(() => {
      resultOf(api.GET("/api/progress/{key}", pathOf(key)))
        .then((answer) => running.current === key && setProgress(answer))
        // It has not begun yet, or is done already.
        .catch(() => undefined);
    }, ASK_EVERY_MS);
    try {
      return await request({ "X-Progress": key });
    } finally {
      // A later request may have taken this one's place.
      if (running.current === key) {
        clearInterval(asking.current);
        running.current = null;
        setProgress(null);
      }
    }
  };
  const stop = () => {
    const key = running.current;
    // What is done meanwhile cannot be stopped any more, and its answer tells.
    if (key) void succeeded(api.DELETE("/api/progress/{key}", pathOf(key))).catch(() => undefined);
  };
  return { progress, run, stop };
}
