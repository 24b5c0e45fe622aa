import { lazy, Suspense, useEffect, type ComponentType, type ReactNode } from "react";
import { Button } from "./ui";

/**
 * Screens are fetched when they are opened: a line of 1.5 Mbit/s takes three seconds for half a
 * megabyte. Once the first one stands, the others follow, so that changing between them is instant.
 */
const fetchers = {
  bench: () => import("./bench"),
  tryout: () => import("./tryout"),
  batch: () => import("./batch"),
  libraries: () => import("./libraries"),
  compare: () => import("./compare"),
};

/**
 * Begin to fetch what an address will show, before it is known who asks for it: on a slow line each
 * question that waits for the answer to another costs a third of a second.
 */
export function fetchAhead(address: string): void {
  const [name = "bench"] = address.split("/").filter(Boolean);
  // Where it does not come now, it is fetched again when it is shown, which says so.
  for (const [screen, fetcher] of Object.entries(fetchers))
    if (screen === name) fetcher().catch(() => undefined);
}

function screen<Props>(fetched: () => Promise<ComponentType<Props>>) {
  return lazy(async () => {
    try {
      return { default: await fetched() };
    } catch {
      return { default: NotFetched };
    }
  });
}

/** In place of a screen that did not come: after an update the files of before are gone. */
function NotFetched() {
  return (
    <main className="grid flex-1 place-content-center gap-3 p-6">
      <p role="alert">
        This screen could not be loaded. The server does not answer, or the program was updated
        since this page was opened.
      </p>
      <Button className="justify-self-start" onClick={() => window.location.reload()}>
        Reload the page
      </Button>
    </main>
  );
}

export const BenchPage = screen(async () => (await fetchers.bench()).BenchPage);
export const TryOutPage = screen(async () => (await fetchers.tryout()).TryOutPage);
export const BatchPage = screen(async () => (await fetchers.batch()).BatchPage);
export const LibrariesPage = screen(async () => (await fetchers.libraries()).LibrariesPage);
export const ComparePage = screen(async () => (await fetchers.compare()).ComparePage);
export const SharedPage = screen(async () => (await import("./shared")).SharedPage);

/** Shows that a screen is on its way. */
export function OnTheWay({ children }: { children: ReactNode }) {
  return (
    <Suspense
      fallback={
        <p role="status" className="p-6 text-ink-2">
          Loading…
        </p>
      }
    >
      {children}
    </Suspense>
  );
}

const AFTER_MS = 4000;

/** Fetch the screens that are not open, once the open one has had time to come. */
export function useOtherScreens(): void {
  useEffect(() => {
    const timer = window.setTimeout(() => {
      // One that does not come now is fetched again when it is opened.
      for (const fetcher of Object.values(fetchers)) fetcher().catch(() => undefined);
    }, AFTER_MS);
    return () => window.clearTimeout(timer);
  }, []);
}
