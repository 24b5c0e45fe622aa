import { useQuery } from "@tanstack/react-query";
import { resultOf, api, mayDo, type LibraryItem } from "../../api";
import { Waiting } from "../../ui";
import { ChangeList } from "./ChangeList";
import { LinkList } from "./LinkList";
import { ReleaseCard } from "./ReleaseCard";
import { ReleaseForm } from "./ReleaseForm";
import { nextNumber } from "./releaseNumbers";

/** Numbered versions that never change: what the next one would bring, and those that are made. */
export function ReleasesView({ library }: { library: LibraryItem }) {
  const path = { library_id: library.id };
  const releases = useQuery({
    queryKey: ["releases", library.id],
    queryFn: async () =>
      (await resultOf(api.GET("/api/libraries/{library_id}/releases", { params: { path } })))
        .releases,
  });
  const pending = useQuery({
    queryKey: ["releases", library.id, "pending"],
    queryFn: () =>
      resultOf(api.GET("/api/libraries/{library_id}/releases/changes", { params: { path } })),
  });
  if (!releases.data || !pending.data)
    return <Waiting words="Comparing approved samples with the last release" />;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      <section className="mb-6 max-w-[860px] rounded-card border border-line-strong bg-panel p-4">
        <h3 className="font-title text-[15px] font-semibold">
          {pending.data.since ? `Since ${pending.data.since}` : "The first release"}
        </h3>
        {pending.data.changes.length === 0 ? (
          <p className="mt-1 text-ink-2">
            {pending.data.since
              ? "No approved samples have changed."
              : "No samples are approved yet; a release contains approved samples."}
          </p>
        ) : (
          <ChangeList
            changes={pending.data.changes}
            counts={pending.data.counts}
            libraryId={library.id}
            since={pending.data.since}
          />
        )}
        {mayDo(library, "release.make") && (
          <ReleaseForm
            key={pending.data.since}
            libraryId={library.id}
            empty={pending.data.changes.length === 0}
            suggested={nextNumber(pending.data.since, Object.keys(pending.data.counts))}
          />
        )}
      </section>
      {releases.data.map((release, n) => (
        <ReleaseCard
          key={release.id}
          release={release}
          library={library}
          since={releases.data[n + 1]?.number ?? null}
        />
      ))}
      {mayDo(library, "share.make") && (
        <LinkList libraryId={library.id} mayKeep={mayDo(library, "members.manage")} />
      )}
    </div>
  );
}
