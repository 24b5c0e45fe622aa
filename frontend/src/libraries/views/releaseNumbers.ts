/** The number that changes ask for: what is gone or renamed may break a build (first part), what
 * is new or sounds otherwise raises the second, words alone the third. */
export function nextNumber(since: string | null, kindsOfChange: readonly string[]): string {
  if (since === null) return "1.0.0";
  const [major = 0, minor = 0, patch = 0] = since.split(".").map(Number);
  const kinds = new Set(kindsOfChange);
  if (kinds.has("removed") || kinds.has("renamed")) return `${major + 1}.0.0`;
  if (kinds.has("added") || kinds.has("sound")) return `${major}.${minor + 1}.0`;
  return `${major}.${minor}.${patch + 1}`;
}
