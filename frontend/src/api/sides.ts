/** What stands on a side of a comparison. */
export type Side =
  | { kind: "sample"; id: number }
  | { kind: "sound"; id: number; revision: number | null; dry?: boolean }
  | { kind: "recording"; digest: string };

export const MOST_SIDES = 4;

/** A side as it stands in an address: "sample.3", "sound.5", "sound.5.2", "sound.5.dry" (its effects off), "recording.…". */
export function sideText(side: Side): string {
  if (side.kind === "recording") return `recording.${side.digest}`;
  if (side.kind === "sample") return `sample.${side.id}`;
  const parts = ["sound", side.id, side.revision, side.dry ? "dry" : null];
  return parts.filter((one) => one !== null).join(".");
}

const number = (text: string | undefined) =>
  text !== undefined && /^[1-9]\d{0,9}$/.test(text) ? Number(text) : null;

/** The side that a text names; null where it names none. */
export function sideOf(text: string): Side | null {
  const dry = text.startsWith("sound.") && text.endsWith(".dry");
  const [kind, name, more, ...rest] = (dry ? text.slice(0, -4) : text).split(".");
  if (name === undefined || rest.length > 0) return null;
  if (kind === "recording")
    return /^[0-9a-f]{64}$/.test(name) && more === undefined ? { kind, digest: name } : null;
  const id = number(name);
  if (id === null) return null;
  if (kind === "sample") return more === undefined ? { kind, id } : null;
  if (kind !== "sound") return null;
  const revision = more === undefined ? null : number(more);
  if (more !== undefined && revision === null) return null;
  return dry ? { kind, id, revision, dry } : { kind, id, revision };
}

/** The sides that an address names, the first ones where there are too many. */
export const sidesIn = (search: URLSearchParams): Side[] =>
  search
    .getAll("side")
    .flatMap((text) => sideOf(text) ?? [])
    .slice(0, MOST_SIDES);

/** Where sides are compared. */
export const compareAddress = (sides: readonly Side[]): string =>
  `/compare${sides.length > 0 ? "?" : ""}${sides.map((one) => `side=${sideText(one)}`).join("&")}`;

/** A side as a request names it. */
export const sideBody = (side: Side) => ({
  kind: side.kind,
  id: side.kind === "recording" ? null : side.id,
  revision: side.kind === "sound" ? side.revision : null,
  document: null,
  digest: side.kind === "recording" ? side.digest : null,
  effects: !(side.kind === "sound" && side.dry),
});
