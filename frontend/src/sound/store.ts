import { create } from "zustand";
import type { AuditionAnswer, Contribution, DetailsAnswer, SavingState, Sound } from "../api";
import type { TimeView } from "../ui";
import type { PointAddress } from "./curveEdits";
import type { LayerCurve } from "./curveRef";
import { withBeatTimes } from "./beats";
import { namedBySources } from "./layerNames";
import { pruned } from "./moverEdits";

/** What the inspector shows. */
export type Selection =
  | { kind: "layer"; id: string }
  | { kind: "processor"; id: string }
  | { kind: "mover"; id: string }
  | { kind: "bus"; id: string }
  | { kind: "pitch" }
  | { kind: "notes" }
  | { kind: "main" };

/** The leaves of a layer's inspector. */
export type InspectorTab = "source" | "curve" | "output";

/** Points of one curve that are moved, scaled and removed together. */
export interface PointsInHand {
  key: string;
  addresses: PointAddress[];
}

/** One named step of the history, with the documents on either side of it. */
interface Step {
  label: string;
  before: Sound;
  after: Sound;
}

export type SaveState = SavingState<Sound>;

export interface OpenedSound {
  id: number;
  libraryId: number;
  libraryName: string;
  revision: number;
  /** A draft that only its author sees, until it is named, kept or moved to a library. */
  isPrivate: boolean;
  /** Whether the account may change it; otherwise what is changed is heard, but not saved. */
  editable: boolean;
}

export interface BenchState {
  opened: OpenedSound | null;
  version: number;
  document: Sound | null;
  /** The document of that version; unsaved changes are the difference to it. Null if unknown. */
  base: Sound | null;
  past: Step[];
  future: Step[];
  /** Key of the gesture under way; its changes are one step, and are heard as drafts. */
  gesture: string | null;
  selection: Selection;
  curves: Record<string, LayerCurve>;
  points: PointsInHand | null;
  tab: InspectorTab;
  /** What the ruler shows; null fits the whole sound. */
  view: TimeView | null;
  listen: boolean;
  save: SaveState;
  audition: AuditionAnswer | null;
  /** The document that the audition was made from. */
  shown: Sound | null;
  auditionProblem: string | null;
  /** What is shown is not what is wanted yet; its render is under way. */
  rendering: boolean;
  /** The closer look at what is shown; null until it has come. */
  details: DetailsAnswer | null;
  /** Id of the step of the path that is heard instead of the output. */
  listenAt: string | null;
  /** Bypassed and active states play at the same loudness. */
  matchSwitched: boolean;
  /** Every processor is left out of what is heard; the document stays as it is. */
  effectsOff: boolean;
  /** What each part changes, as it was measured of a document. */
  contributions: { document: Sound; parts: Contribution[] } | null;
}

export const useBench = create<BenchState>(() => ({
  opened: null,
  version: 0,
  document: null,
  base: null,
  past: [],
  future: [],
  gesture: null,
  selection: { kind: "main" },
  curves: {},
  points: null,
  tab: "source",
  view: null,
  listen: true,
  save: { kind: "saved" },
  audition: null,
  shown: null,
  auditionProblem: null,
  rendering: false,
  details: null,
  listenAt: null,
  matchSwitched: false,
  effectsOff: false,
  contributions: null,
}));

// The history is our own, not a middleware that keeps snapshots of the store: each step has a name that is
// shown and played, a gesture of many moves is one step, and selection and zoom stay where they are.
const LONGEST_HISTORY = 2000;

/** Show a sound afresh: nothing to undo, its first layer selected. */
export function openDocument(opened: OpenedSound, version: number, document: Sound): void {
  const first = document.layers[0];
  useBench.setState({
    opened,
    version,
    document,
    base: document,
    past: [],
    future: [],
    gesture: null,
    selection: first ? { kind: "layer", id: first.id } : { kind: "main" },
    curves: {},
    points: null,
    view: null,
    save: { kind: "saved" },
    audition: null,
    shown: null,
    auditionProblem: null,
    details: null,
    listenAt: null,
    effectsOff: false,
    contributions: null,
  });
}

/**
 * Make one named change. Changes that share a gesture key are one step of the history; pass
 * ``moving`` while the hand still moves, and once more without it at the end.
 */
export function edit(
  label: string,
  change: (document: Sound) => Sound,
  { gesture = null, moving = false }: { gesture?: string | null; moving?: boolean } = {},
): void {
  useBench.setState((state) => {
    const before = state.document;
    if (!before) return {};
    // What loses its mover or its target goes with it, in the same step.
    const after = pruned(namedBySources(before, withBeatTimes(change(before))));
    const open = moving ? gesture : null;
    if (after === before) return state.gesture === open ? {} : { gesture: open };
    const last = state.past.at(-1);
    const joined = gesture !== null && state.gesture === gesture && last !== undefined;
    const step = joined ? { ...last, label, after } : { label, before, after };
    return {
      document: after,
      past: [...(joined ? state.past.slice(0, -1) : state.past), step].slice(-LONGEST_HISTORY),
      future: [],
      gesture: open,
      save: state.save.kind === "stale" ? state.save : { kind: "changed" },
    };
  });
}

export function undo(): void {
  useBench.setState((state) => {
    const step = state.past.at(-1);
    if (!step) return {};
    return {
      document: step.before,
      past: state.past.slice(0, -1),
      future: [...state.future, step],
      points: null,
      gesture: null,
      save: { kind: "changed" },
    };
  });
}

export function redo(): void {
  useBench.setState((state) => {
    const step = state.future.at(-1);
    if (!step) return {};
    return {
      document: step.after,
      past: [...state.past, step],
      future: state.future.slice(0, -1),
      points: null,
      gesture: null,
      save: { kind: "changed" },
    };
  });
}

export const select = (selection: Selection) => useBench.setState({ selection });
export const showTab = (tab: InspectorTab) => useBench.setState({ tab });

/** Select points of a curve; none where the list is empty. */
export const takePoints = (key: string, addresses: PointAddress[]) =>
  useBench.setState({ points: addresses.length > 0 ? { key, addresses } : null });
export const setView = (view: TimeView | null) => useBench.setState({ view });
export const toggleListen = () => useBench.setState((state) => ({ listen: !state.listen }));

export function takeInHand(layerId: string, curve: LayerCurve): void {
  useBench.setState((state) => ({
    curves: { ...state.curves, [layerId]: curve },
    selection: { kind: "layer", id: layerId },
    tab: "curve",
  }));
}

/** Select a mover, or the layer or common pitch whose drawn curve it is. */
export function showMover(id: string): void {
  const [owner = "", curve] = id.split(".");
  if (curve === undefined) return select({ kind: "mover", id });
  if (owner === "common") return select({ kind: "pitch" });
  takeInHand(owner, curve === "pitch" ? "pitch" : "level");
}
