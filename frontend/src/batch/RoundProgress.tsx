import { useEffect, useState } from "react";
import { progressWords } from "../ui";
import { useBatch } from "./store";

/** How quickly members come, and how long the others will take. */
export function RoundProgress() {
  const id = useBatch((state) => state.round?.id ?? 0);
  const running = useBatch((state) => state.round?.running ?? false);
  return running ? <Counting key={id} /> : null;
}

function Counting() {
  const done = useBatch((state) => (state.round?.done ?? 0) + (state.round?.failed ?? 0));
  const count = useBatch((state) => state.round?.count ?? 0);
  const [began] = useState(() => ({ at: Date.now(), done }));
  const [now, setNow] = useState(began.at);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 500);
    return () => window.clearInterval(timer);
  }, []);
  const work = {
    done: done - began.done,
    of: count - began.done,
    seconds: (now - began.at) / 1000,
  };
  return (
    <p role="status" className="figure text-[11.5px] text-ink-2">
      {progressWords(work)}
    </p>
  );
}
