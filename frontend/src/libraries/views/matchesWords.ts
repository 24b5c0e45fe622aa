interface Described {
  name: string;
  category: string;
  tags: string[];
  description: string;
}

/** Whether each typed word is in a sound's details. */
export function matchesWords(described: Described, words: string): boolean {
  const { name, category, tags, description } = described;
  const said = `${name} ${category} ${tags.join(" ")} ${description}`.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => said.includes(word));
}
