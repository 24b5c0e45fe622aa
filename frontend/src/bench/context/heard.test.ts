import { expect, it } from "vitest";
import { TRYOUT_DEFAULTS, type Sound, type TryOut } from "../../api";
import { SOUND_DEFAULTS } from "../../api/generated/kinds";
import { useContext, useTryOut } from "../../loop";
import { useBench } from "../../sound";
import { heardInContext } from "./heard";

const tryout: TryOut = { ...TRYOUT_DEFAULTS.tryout, name: "Groove", parts: [] };
const sound = (seed: number): Sound => ({ ...SOUND_DEFAULTS, name: "Kick", seed });

it("keeps its document while only the sound is edited, so that no plan is asked for", () => {
  useTryOut.setState({ document: tryout });
  useBench.setState({ document: sound(1), opened: { id: 7 } as never });
  const first = heardInContext();
  expect(heardInContext()).toBe(first);
  useBench.setState({ document: sound(2) });
  const second = heardInContext();
  expect(second).not.toBe(first);
  expect(second?.document).toBe(first?.document);
  expect(second?.drafts.get(7)).toEqual(sound(2));
  useContext.setState({ othersDb: 6 });
  expect(heardInContext()?.document).not.toBe(first?.document);
  useContext.setState({ othersDb: 0 });
  useBench.setState({ document: null, opened: null });
  expect(heardInContext()).toBeNull();
  useTryOut.setState({ document: null });
});
