import { useEffect, useRef, useState } from "react";
import { useBench } from "../../sound";
import { useRemarks } from "./checksStore";

/** Says to a screen reader, once each, that a render is done and what the checks found anew. */
export function Announcer() {
  const digest = useBench((state) => state.audition?.digest);
  const { shown } = useRemarks();
  const wrong = shown.filter(({ severity }) => severity !== "good").map(({ text }) => text);
  // A text, so that an equal list is no change.
  const lines = wrong.join("\n");
  const said = useRef({ digest, lines });
  const [words, setWords] = useState("");
  useEffect(() => {
    if (digest === undefined || digest === said.current.digest) return;
    const before = said.current.lines.split("\n");
    said.current = { digest, lines };
    const fresh = lines.split("\n").filter((text) => text !== "" && !before.includes(text));
    const good = before[0] !== "" && lines === "" ? ["All checks good"] : [];
    setWords(["Rendered", ...fresh, ...good].join(". "));
  }, [digest, lines]);
  return (
    <p role="status" aria-live="polite" className="sr-only">
      {words}
    </p>
  );
}
