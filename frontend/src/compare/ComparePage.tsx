import { useEffect } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { compareAddress, sidesIn, type Side } from "../api";
import { useTitle } from "../ui";
import { Compare } from "./Compare";
import { Chooser } from "./Chooser";
import { compareAfresh } from "./store";

/** Two to four sides, which stand in the address; fewer are chosen first. */
export function ComparePage() {
  useTitle("Compare");
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const sides = sidesIn(search);
  const go = (next: Side[]) => void navigate(compareAddress(next));
  useEffect(() => compareAfresh, []);
  return (
    <main id="work" tabIndex={-1} className="flex min-w-0 flex-1 flex-col outline-none">
      <h1 className="sr-only">Compare</h1>
      {sides.length < 2 ? (
        <Chooser sides={sides} onSides={go} />
      ) : (
        <Compare sides={sides} onSides={go} />
      )}
    </main>
  );
}
