import { useQuery } from "@tanstack/react-query";
import { Download, Share2 } from "lucide-react";
import { useState } from "react";
import { resultOf, api, mayDo, type ReleaseItem, type LibraryItem } from "../../api";
import { Button } from "../../ui";
import { ShareDialog } from "../common";
import { ChangeList } from "./ChangeList";

interface Props {
  release: ReleaseItem;
  library: LibraryItem;
  since: string | null;
}

/** One release: downloaded, shared, and what it changed. */
export function ReleaseCard({ release, library, since }: Props) {
  const [open, setOpen] = useState(false);
  const [sharing, setSharing] = useState(false);
  const { number } = release;
  const path = { library_id: library.id, number };
  const changes = useQuery({
    queryKey: ["releases", library.id, number, "changes"],
    enabled: open,
    queryFn: () =>
      resultOf(
        api.GET("/api/libraries/{library_id}/releases/{number}/changes", { params: { path } }),
      ),
  });
  return (
    <article className="mb-3 max-w-[860px] rounded-card border border-line bg-sheet p-4">
      <header className="flex items-center gap-3">
        <h3 className="figure text-[17px] font-semibold">{number}</h3>
        <p className="min-w-0 flex-1 truncate text-[12.5px] text-ink-2">
          {release.files} files, {(release.size_bytes / 1e6).toFixed(1)} MB ·{" "}
          {new Date(release.created).toLocaleString()} · {release.created_by}
        </p>
        {mayDo(library, "share.make") && (
          <Button onClick={() => setSharing(true)}>
            <Share2 size={14} aria-hidden /> Share
          </Button>
        )}
        <a
          href={`/api/libraries/${library.id}/releases/${number}.zip`}
          download
          className="inline-flex min-h-8 items-center gap-1.5 rounded-control border border-line-strong px-3 font-medium hover:bg-band"
        >
          <Download size={14} aria-hidden /> Download
        </a>
      </header>
      {release.note && <p className="mt-1.5 break-words">{release.note}</p>}
      <details className="mt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="min-h-6 cursor-pointer text-[12.5px] text-action">
          {since ? `What changed since ${since}` : "Contents"}
        </summary>
        {changes.data && (
          <ChangeList
            changes={changes.data.changes}
            counts={changes.data.counts}
            libraryId={library.id}
            since={since}
            number={number}
          />
        )}
      </details>
      <ShareDialog
        open={sharing}
        onClose={() => setSharing(false)}
        what={{ libraryId: library.id, number, name: `${library.name} ${number}` }}
      />
    </article>
  );
}
