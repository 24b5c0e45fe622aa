import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import { resultOf, api, ApiError, librariesQuery, mayDo, useSounds, type Sound } from "../api";
import { Bench } from "./Bench";
import { EmptyBench } from "./EmptyBench";
import { useRedirect } from "../ui";
import { openDocument, useBench, keptEdits } from "../sound";

const LIBRARIES_FRESH_MS = 10_000;

/** Finds the sound that the address names, or the newest one, and opens it on the Bench. */
export function BenchPage() {
  const { soundId } = useParams();
  const redirect = useRedirect();
  const sounds = useSounds();
  const newest = sounds.data?.[0]?.id;
  useEffect(() => {
    if (soundId === undefined && newest !== undefined) redirect(`/bench/${newest}`);
  }, [soundId, newest, redirect]);
  if (soundId === undefined) {
    if (sounds.data?.length === 0) return <EmptyBench />;
    return <Message text={sounds.error?.message ?? ""} />;
  }
  return <OpenSound key={soundId} soundId={Number(soundId)} />;
}

function OpenSound({ soundId }: { soundId: number }) {
  const [problem, setProblem] = useState<string | null>(null);
  const ready = useBench((state) => state.opened?.id === soundId);
  const queries = useQueryClient();
  useEffect(() => {
    let wanted = true;
    const open = async () => {
      try {
        const params = { path: { sound_id: soundId } };
        const [draft, libraries] = await Promise.all([
          resultOf(api.GET("/api/sounds/{sound_id}", { params })),
          queries.fetchQuery({ ...librariesQuery, staleTime: LIBRARIES_FRESH_MS }),
        ]);
        if (!wanted) return;
        const library = libraries.find(({ id }) => id === draft.library_id);
        const opened = {
          id: draft.id,
          libraryId: draft.library_id,
          libraryName: draft.library_name,
          revision: draft.revision,
          isPrivate: draft.private,
          editable: mayDo(library, "sound.edit"),
        };
        openDocument(opened, draft.version, draft.document as Sound & Record<string, unknown>);
        await restoreKept(soundId);
        void queries.invalidateQueries({ queryKey: ["sounds"] });
      } catch (error) {
        if (wanted)
          setProblem(error instanceof ApiError ? error.message : "The sound could not be opened");
      }
    };
    void open();
    return () => {
      wanted = false;
    };
  }, [soundId, queries]);
  if (problem !== null) return <Message text={problem} />;
  return ready ? <Bench /> : <Message text="" />;
}

/**
 * Edits that an earlier page could not save are taken up, and saved by the version they began at.
 * The program may be newer than they are, so the server brings them up to date first.
 */
async function restoreKept(soundId: number) {
  const kept = keptEdits(soundId);
  if (!kept) return;
  const document = await broughtUpToDate(kept.document);
  if (useBench.getState().opened?.id !== soundId) return;
  useBench.setState({
    document,
    version: kept.version,
    // From what those edits were made is not known any more.
    base: null,
    save: { kind: "changed" },
  });
}

async function broughtUpToDate(document: Sound): Promise<Sound> {
  try {
    const body = { document: { ...document } };
    const current = await resultOf(api.POST("/api/documents/current", { body }));
    return current.document as Sound & Record<string, unknown>;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    // Refused or out of reach: shown as it was, and the next save says what is wrong.
    return document;
  }
}

function Message({ text }: { text: string }) {
  return (
    <main className="grid flex-1 place-items-center text-ink-2">
      {text && <p role="alert">{text}</p>}
    </main>
  );
}
