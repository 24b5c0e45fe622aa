export function Section({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: string;
  children: React.ReactNode;
}) {
  return (
    <section className="mt-3">
      <h3 className="mb-1 flex justify-between text-[12px] font-semibold text-ink-2">
        {title} {aside && <span className="font-normal">{aside}</span>}
      </h3>
      {children}
    </section>
  );
}
