/** A field that two people changed in different ways. */
export interface Conflict {
  /** Where it is, as layers.body.level_db: parts of lists by their id. */
  path: string[];
  mine: unknown;
  theirs: unknown;
}

type Tree = Record<string, unknown>;
type Part = Tree & { id: string };

const isTree = (value: unknown): value is Tree =>
  typeof value === "object" && value !== null && !Array.isArray(value);

const areParts = (value: unknown): value is Part[] =>
  Array.isArray(value) && value.every((one) => isTree(one) && typeof one["id"] === "string");

/** Whether two values of documents are the same, whatever the order of their fields. */
export function same(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (Array.isArray(one) && Array.isArray(other))
    return one.length === other.length && one.every((value, n) => same(value, other[n]));
  if (!isTree(one) || !isTree(other)) return false;
  const keys = new Set([...Object.keys(one), ...Object.keys(other)]);
  return [...keys].every((key) => same(one[key], other[key]));
}

/**
 * What two people made of the same document, together. Where only one of them changed something, it
 * is as they made it. Where both did, differently, it is as ``mine`` unless ``preferred`` is
 * ``theirs``, and said as a conflict.
 *
 * Parts of lists are known by their ids: both may add, and change different ones. Lists without ids,
 * such as the points of a curve, are one value.
 */
export function merged<Document>(
  base: Document,
  mine: Document,
  theirs: Document,
  preferred: "mine" | "theirs" = "mine",
): { document: Document; conflicts: Conflict[] } {
  const conflicts: Conflict[] = [];
  const document = mergedValue(base, mine, theirs, { path: [], conflicts, preferred });
  return { document: document as Document, conflicts };
}

interface Place {
  path: string[];
  conflicts: Conflict[];
  preferred: "mine" | "theirs";
}

function mergedValue(base: unknown, mine: unknown, theirs: unknown, place: Place): unknown {
  if (same(mine, theirs) || same(base, theirs)) return mine;
  if (same(base, mine)) return theirs;
  // Another kind of source or processor is another thing, whose fields do not go together.
  if (isTree(base) && isTree(mine) && isTree(theirs) && sameKind(base, mine, theirs))
    return mergedTree(base, mine, theirs, place);
  if (areParts(base) && areParts(mine) && areParts(theirs))
    return mergedParts(base, mine, theirs, place);
  place.conflicts.push({ path: place.path, mine, theirs });
  return place.preferred === "mine" ? mine : theirs;
}

const sameKind = (...trees: Tree[]) => new Set(trees.map((tree) => tree["kind"])).size === 1;

const within = (place: Place, key: string): Place => ({ ...place, path: [...place.path, key] });

function mergedTree(base: Tree, mine: Tree, theirs: Tree, place: Place): Tree {
  const keys = new Set([...Object.keys(mine), ...Object.keys(theirs)]);
  const made: Tree = {};
  for (const key of keys) {
    const value = mergedValue(base[key], mine[key], theirs[key], within(place, key));
    if (value !== undefined) made[key] = value;
  }
  return made;
}

function mergedParts(base: Part[], mine: Part[], theirs: Part[], place: Place): Part[] {
  const byId = (parts: Part[]) => new Map(parts.map((part) => [part.id, part]));
  const [before, own, others] = [byId(base), byId(mine), byId(theirs)];
  const one = (id: string) =>
    mergedValue(before.get(id), own.get(id), others.get(id), within(place, id)) as Part | undefined;
  const moved = !same(
    base.map(({ id }) => id).filter((id) => own.has(id)),
    mine.map(({ id }) => id).filter((id) => before.has(id)),
  );
  // The order is that of the one who changed it; what the other added follows what it stood behind.
  const [first, second] = moved ? [mine, theirs] : [theirs, mine];
  const order = first.map(({ id }) => id);
  second.forEach(({ id }, n) => {
    if (order.includes(id)) return;
    const behind = second[n - 1]?.id;
    const at = behind === undefined ? -1 : order.indexOf(behind);
    order.splice(behind === undefined ? 0 : at < 0 ? order.length : at + 1, 0, id);
  });
  return order.flatMap((id) => one(id) ?? []);
}
