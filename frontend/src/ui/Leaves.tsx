import { Tab, TabGroup, TabList } from "@headlessui/react";

interface Props<Leaf extends string> {
  label: string;
  leaves: readonly Leaf[];
  chosen: Leaf;
  onChoose: (leaf: Leaf) => void;
  /** Whether they share the whole width. */
  wide?: boolean;
}

/** Leaves of one thing, of which one is open; arrow keys go from one to the next. */
export function Leaves<Leaf extends string>(props: Props<Leaf>) {
  const { label, leaves, chosen, onChoose, wide = false } = props;
  return (
    <TabGroup
      selectedIndex={leaves.indexOf(chosen)}
      onChange={(n) => {
        const leaf = leaves[n];
        if (leaf !== undefined) onChoose(leaf);
      }}
    >
      <TabList aria-label={label} className="flex gap-1 border-b border-line">
        {leaves.map((leaf) => (
          <Tab
            key={leaf}
            className={`min-h-8 text-[12.5px] text-ink-2 data-selected:border-b-2 data-selected:border-ink data-selected:font-semibold data-selected:text-ink ${wide ? "flex-1" : "px-3"}`}
          >
            {leaf}
          </Tab>
        ))}
      </TabList>
    </TabGroup>
  );
}
