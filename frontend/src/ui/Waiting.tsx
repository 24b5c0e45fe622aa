/** Says what is being done where it takes longer than one notices; nothing before that. */
export function Waiting({ words, lines = 3 }: { words: string; lines?: number }) {
  return (
    <div role="status" className="appears-late grid gap-3 p-4 text-ink-2">
      <p>{words}…</p>
      {Array.from({ length: lines }, (_, n) => (
        <span key={n} className="block h-2 rounded-full bg-band" style={{ width: 320 - 60 * n }} />
      ))}
    </div>
  );
}
