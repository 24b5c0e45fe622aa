import { useTitle } from "../ui";

/** A page with one card in its middle, for visitors who are not signed in yet. */
export function Cover({ title, children }: { title: string; children: React.ReactNode }) {
  useTitle(title);
  return (
    <main className="grid h-full flex-1 place-items-center overflow-y-auto bg-paper p-6">
      <div className="w-full max-w-[360px] rounded-card border border-line-strong bg-panel p-6">
        <div className="mb-5 flex items-center gap-3">
          <img src="/icon.svg" alt="" className="size-10 rounded-md bg-[#e9e2d3] p-0.5" />
          <div>
            <p className="text-[12px] text-ink-2">Nest Crate</p>
            <h1 className="font-title text-[20px] leading-6 font-semibold">{title}</h1>
          </div>
        </div>
        {children}
      </div>
    </main>
  );
}
