import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import {
  oneSample,
  errorText,
  type WishItem,
  resultOf,
  api,
  useSounds,
  mayDo,
  type LibraryItem,
} from "../../api";
import { playUrl } from "../../audio";
import { Button } from "../../ui";
import { askAnew, choose } from "../common";
import { type Answer, AnswerDialog } from "./AnswerDialog";

/** One request: heard where it has an example, answered, closed. */
export function WishCard({ wish, library }: { wish: WishItem; library: LibraryItem }) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const [answering, setAnswering] = useState(false);
  const mayAnswer = mayDo(library, "wish.answer");
  const params = { path: { wish_id: wish.id } };
  const attempt = async (what: () => Promise<unknown>) => {
    setProblem(null);
    try {
      await what();
    } catch (error) {
      setProblem(errorText(error));
    }
    await queries.invalidateQueries({ queryKey: ["wishes"] });
  };
  const answer = (body: Answer) =>
    attempt(() => resultOf(api.POST("/api/wishes/{wish_id}/answer", { params, body })));
  const put = (state: "open" | "closed") =>
    attempt(() => resultOf(api.PUT("/api/wishes/{wish_id}", { params, body: { state } })));
  return (
    <li
      className={`rounded-card border border-line bg-panel p-3 ${wish.state === "closed" ? "opacity-60" : ""}`}
    >
      <p className="flex items-baseline gap-3">
        <b className="min-w-0 flex-1 break-words">{wish.title}</b>
        <span className="text-[12px] text-ink-2">
          {wish.by}, {new Date(wish.created).toLocaleDateString()} · {wish.state}
        </span>
      </p>
      {wish.text && <p className="mt-0.5 break-words">{wish.text}</p>}
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <p className="mt-2 flex flex-wrap items-center gap-2">
        {wish.reference && (
          <Button
            onClick={() => void playUrl(`/api/recordings/${wish.reference}.wav`, `wish-${wish.id}`)}
          >
            Play the example
          </Button>
        )}
        {wish.sample_id !== null && <AnswerLink libraryId={library.id} sampleId={wish.sample_id} />}
        {wish.sound_id !== null && <SoundLink soundId={wish.sound_id} />}
        {mayAnswer && wish.state === "open" && (
          <Button onClick={() => setAnswering(true)}>Answer…</Button>
        )}
        {(wish.own || mayAnswer) && (
          <Button
            look="quiet"
            onClick={() => void put(wish.state === "closed" ? "open" : "closed")}
          >
            {wish.state === "closed" ? "Open again" : "Close"}
          </Button>
        )}
      </p>
      <AnswerDialog
        open={answering}
        onClose={() => setAnswering(false)}
        title={wish.title}
        libraryId={library.id}
        onAnswer={(given) => void answer(given)}
      />
    </li>
  );
}

function SoundLink({ soundId }: { soundId: number }) {
  const sound = useSounds().data?.find(({ id }) => id === soundId);
  return (
    <Link to={`/bench/${soundId}`} className="text-action underline">
      answered by the sound {sound?.name ?? ""}
    </Link>
  );
}

function AnswerLink({ libraryId, sampleId }: { libraryId: number; sampleId: number }) {
  const sample = useQuery(oneSample(sampleId));
  return (
    <Link
      to={`/libraries/${libraryId}`}
      className="text-action underline"
      onClick={() => {
        askAnew({ libraries: [libraryId] });
        choose(sampleId);
      }}
    >
      answered by {sample.data?.name ?? "a sample"}
    </Link>
  );
}
