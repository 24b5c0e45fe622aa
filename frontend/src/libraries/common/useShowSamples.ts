import { useNavigate } from "react-router";
import { askAnew, choose, mark } from "./queryStore";

/** The samples of a library: the newest first, one chosen, several marked. */
export function useShowSamples() {
  const navigate = useNavigate();
  return (libraryId: number, sampleIds: number[]) => {
    askAnew({ libraries: [libraryId], sort: "newest" });
    if (sampleIds.length > 1) mark(sampleIds);
    choose(sampleIds[0] ?? null);
    void navigate(`/libraries/${libraryId}`);
  };
}
