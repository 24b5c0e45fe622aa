import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { fieldProblem, oneSample, said, type WishItem } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import { useSounds } from "../../api/queries";
import { mayDo } from "../../api/session";
import type { LibraryItem } from "../../api/types";
import { playUrl } from "../../audio/player";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { TextField } from "../../ui/TextField";
import { askAnew, choose } from "../queryStore";
import { type Answer, AnswerDialog } from "./AnswerDialog";

const useRecordings = () =>
  useQuery({
    queryKey: ["recordings"],
    queryFn: async () => (await answered(api.GET("/api/recordings"))).recordings,
  });

/** Wishes for sounds beside a library, and what answers them. */
export function WishesView({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const recordings = useRecordings().data ?? [];
  const path = { library_id: library.id };
  const wishes = useQuery({
    queryKey: ["wishes", library.id],
    queryFn: async () =>
      (await answered(api.GET("/api/libraries/{library_id}/wishes", { params: { path } }))).wishes,
  });
  const [given, setGiven] = useState({ title: "", text: "", recording: "" });
  const [problem, setProblem] = useState<unknown>(null);
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const recording_id = given.recording === "" ? null : Number(given.recording);
      const body = { title: given.title, text: given.text, recording_id };
      await answered(api.POST("/api/libraries/{library_id}/wishes", { params: { path }, body }));
      setGiven({ title: "", text: "", recording: "" });
      setProblem(null);
    } catch (error) {
      setProblem(error);
    }
    await queries.invalidateQueries({ queryKey: ["wishes"] });
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      {mayDo(library, "wish.make") && (
        <form
          onSubmit={(event) => void make(event)}
          className="mb-5 grid max-w-[860px] grid-cols-[1fr_1.4fr_180px_auto] items-end gap-2"
        >
          <TextField
            label="Wish for a sound"
            placeholder="a gong in the hall"
            maxLength={120}
            value={given.title}
            problem={fieldProblem(problem, "title")}
            onChange={(event) => setGiven({ ...given, title: event.target.value })}
          />
          <TextField
            label="How it should be"
            value={given.text}
            onChange={(event) => setGiven({ ...given, text: event.target.value })}
          />
          <Choice
            label="Like this recording"
            value={given.recording}
            options={[
              ["", "none"],
              ...recordings.map(({ id, name }) => [String(id), name] as const),
            ]}
            onChange={(recording) => setGiven({ ...given, recording })}
          />
          <Button look="action" type="submit" disabled={given.title.trim() === ""}>
            Wish
          </Button>
        </form>
      )}
      {problem !== null && !fieldProblem(problem, "title") && (
        <p role="alert" className="mb-3 text-bad">
          {said(problem)}
        </p>
      )}
      {wishes.data?.length === 0 && (
        <p className="text-ink-2">
          Nobody wishes for anything. A wish says what is missing; whoever makes it answers with the
          sound.
        </p>
      )}
      <ul className="grid max-w-[860px] gap-2">
        {wishes.data?.map((wish) => (
          <WishCard key={wish.id} wish={wish} library={library} />
        ))}
      </ul>
    </div>
  );
}

function WishCard({ wish, library }: { wish: WishItem; library: LibraryItem }) {
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
      setProblem(said(error));
    }
    await queries.invalidateQueries({ queryKey: ["wishes"] });
  };
  const answer = (body: Answer) =>
    attempt(() => answered(api.POST("/api/wishes/{wish_id}/answer", { params, body })));
  const put = (state: "open" | "closed") =>
    attempt(() => answered(api.PUT("/api/wishes/{wish_id}", { params, body: { state } })));
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
            Hear what is meant
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
