import { errorText, type Side } from "../api";
import { useSize, timeScale } from "../ui";
import { DifferenceList } from "./DifferenceList";
import { Header } from "./Header";
import { LABEL_WIDTH } from "./layout";
import { Rows } from "./Rows";
import { useCompare } from "./store";
import { useCompareKeys } from "./useCompareKeys";
import { useCompared, useDeckOf, useSideNames } from "./useCompared";

const said = (error: unknown) => (error === null ? null : errorText(error));

interface Props {
  sides: Side[];
  onSides: (sides: Side[]) => void;
}

/** Sides on one ruler, and where they differ. */
export function Compare({ sides, onSides }: Props) {
  const asked = useCompare();
  const found = useCompared(sides, asked);
  const names = useSideNames(sides);
  const compared = found.data?.sides.length === sides.length ? found.data : undefined;
  // What is shown of earlier sides does not lie as these do.
  const deckNow = useDeckOf(sides, found.isPlaceholderData ? undefined : compared);
  const { ref, width } = useSize<HTMLDivElement>();
  const scale = timeScale(
    { startS: 0, endS: compared?.length_s ?? 1 },
    Math.max(0, width - LABEL_WIDTH),
  );
  useCompareKeys(sides.length);
  const problem = said(found.error) ?? said(names.error) ?? said(deckNow.problem);
  return (
    <>
      <Header
        sides={sides}
        names={names.data ?? []}
        compared={compared}
        ready={deckNow.ready}
        onSides={onSides}
      />
      {problem && (
        <p role="alert" className="border-b border-line-strong bg-panel px-3 py-1.5 text-bad">
          {problem}
        </p>
      )}
      <div className="flex min-h-0 flex-1 narrow:flex-col narrow:overflow-y-auto">
        <div
          ref={ref}
          className="min-w-0 flex-1 overflow-x-hidden overflow-y-auto narrow:overflow-y-visible"
          aria-busy={found.isFetching}
        >
          {compared ? (
            <Rows compared={compared} scale={scale} />
          ) : (
            !problem && (
              <p role="status" className="appears-late p-6 text-ink-2">
                Rendering and measuring the sides…
              </p>
            )
          )}
        </div>
        {compared && <DifferenceList compared={compared} sides={sides} names={names.data ?? []} />}
      </div>
    </>
  );
}
