import { useEffect } from "react";

/** The title of the page's tab: what is open, and on which screen. */
export function useTitle(...words: (string | undefined)[]): void {
  const title = [...words.filter(Boolean), "Nest Crate"].join(" – ");
  useEffect(() => {
    document.title = title;
  }, [title]);
}
