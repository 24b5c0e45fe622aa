import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Curve } from "../../api";
import type { CurveName } from "../../sound";

/** The curve that was copied last; kept across sounds and pages. */
interface Clipboard {
  copied: { curve: Curve; name: CurveName } | null;
}

export const useClipboard = create<Clipboard>()(
  persist((): Clipboard => ({ copied: null }), { name: "nest-crate:curve" }),
);

export const copyCurve = (curve: Curve, name: CurveName) =>
  useClipboard.setState({ copied: { curve, name } });
