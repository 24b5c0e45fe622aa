import { useEffect } from "react";
import { useParams } from "react-router";
import { stopLoop, useOpenTryOut, useTryOut } from "../loop";
import { TryOut } from "./TryOut";
import { TryOutList } from "./TryOutList";

/** The try-out that the address names, or the list of all. */
export function TryOutPage() {
  const { tryoutId } = useParams();
  if (tryoutId === undefined) return <TryOutList />;
  return <OpenTryOut key={tryoutId} id={Number(tryoutId)} />;
}

function OpenTryOut({ id }: { id: number }) {
  const problem = useOpenTryOut(id);
  const ready = useTryOut((state) => state.opened?.id === id);
  useEffect(() => stopLoop, []);
  if (problem !== null)
    return (
      <main className="grid flex-1 place-items-center text-ink-2">
        <p role="alert">{problem}</p>
      </main>
    );
  return ready ? <TryOut /> : <main className="flex-1" aria-busy />;
}
