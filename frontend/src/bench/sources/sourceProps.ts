import type { Declarations } from "../../api";

export type How = { gesture: string; moving: boolean };

/** What the fields of every kind of source are given. */
export interface SourceProps<Kind> {
  /** Name of the layer, for the history. */
  owner: string;
  layerId: string;
  source: Kind;
  declarations: Declarations;
  onChange: (label: string, patch: object, how: How) => void;
}
