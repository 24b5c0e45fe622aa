import { useEffect, useRef, useState } from "react";
import { useBench } from "../../sound";
import { useRemarks } from "./checksStore";

/** Says to a screen reader, once each, that a render is done and what the checks found anew. */
export function Announcer() {
  const digest = useBench((state) => state.audition?.digest);
  const { shown } = useRemarks();
  const wrong = shown.filter(({ severity }) => severity !== "good").map(({ text }) => text);
  const said = useRef<{ digest: string | undefined; wrong: string[] }>({ digest, wrong });
  const [words, setWords] = useState("");
  const all = wrong.join(". ");
  useEffect(() => {
    if (digest === undefined || digest === said.current.digest) return;
    const fresh = wrong.filter((text) => !said.current.wrong.includes(text));
    const gone = said.current.wrong.length > 0 && wrong.length === 0;
    said.current = { digest, wrong };
    setWords(["Rendered", ...fresh, ...(gone ? ["All checks good"] : [])].join(". "));
    // What is wrong changes with the render it is found in.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [digest, all]);
  return (
    <p role="status" aria-live="polite" className="sr-only">
      {words}
    </p>
  );
}
