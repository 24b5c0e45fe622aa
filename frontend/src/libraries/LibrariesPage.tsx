import { Download } from "lucide-react";
import { useNavigate, useParams } from "react-router";
import { useLibraries, useSamples } from "../api/queries";
import { chooseFiles } from "../bringing";
import { SampleTable } from "./SampleTable";

/** The shared catalogue: libraries at the left, the samples of one at the right. */
export function LibrariesPage() {
  const { libraryId } = useParams();
  const navigate = useNavigate();
  const libraries = useLibraries();
  const chosen =
    libraryId === undefined
      ? libraries.data?.[0]
      : libraries.data?.find(({ id }) => id === Number(libraryId));
  const samples = useSamples(chosen?.id);
  const problem = libraries.error ?? samples.error;
  return (
    <main className="grid min-w-0 flex-1 grid-cols-[220px_minmax(0,1fr)]">
      <nav aria-label="Libraries" className="border-r border-line-strong bg-panel p-3">
        <h1 className="mb-3 font-title text-[17px] font-semibold">Libraries</h1>
        {libraries.data?.map(({ id, name, samples: count }) => (
          <button
            key={id}
            type="button"
            aria-current={id === chosen?.id}
            onClick={() => void navigate(`/libraries/${id}`)}
            className={`flex min-h-8 w-full items-center justify-between rounded-control px-2 text-left ${id === chosen?.id ? "bg-band font-semibold" : "hover:bg-band"}`}
          >
            <span className="truncate">{name}</span>
            <span className="figure text-[11px] text-ink-2">{count}</span>
          </button>
        ))}
      </nav>
      <section className="flex min-h-0 min-w-0 flex-col bg-sheet">
        <header className="flex h-[54px] items-center gap-3 border-b border-line-strong bg-panel px-4">
          <div className="min-w-0">
            <h2 className="truncate font-title text-[17px] leading-6 font-semibold">
              {chosen?.name}
            </h2>
            <p className="truncate text-[12px] text-ink-2">{chosen?.description}</p>
          </div>
          <button
            type="button"
            className="ml-auto inline-flex min-h-8 items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-2.5 whitespace-nowrap hover:bg-band"
            onClick={chooseFiles}
          >
            <Download size={14} aria-hidden /> Bring in files…
          </button>
          <p className="text-[12px] whitespace-nowrap text-ink-2">
            ↑ ↓ move and play · Enter opens the sound
          </p>
        </header>
        {problem && (
          <p role="alert" className="p-4 text-bad">
            {problem.message}
          </p>
        )}
        {samples.data && <SampleTable samples={samples.data} />}
      </section>
    </main>
  );
}
