import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { succeeded, errorText, resultOf, api, type SampleItem } from "../../api";
import { Button, typedOr } from "../../ui";
import { lengthText } from "../common";
import { useComments } from "./HeardWave";

interface Props {
  sample: SampleItem;
  atS: number | null;
  onPoint: (atS: number | null) => void;
  mayComment: boolean;
}

/** Comments on a sample, and a line to enter a comment, of all of it or of one moment. */
export function CommentsLeaf({ sample, atS, onPoint, mayComment }: Props) {
  const comments = useComments(sample.id);
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const [at, setAt] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [shown, setShown] = useState(atS);
  // A press on the waveform writes its time here.
  if (atS !== shown) {
    setShown(atS);
    setAt(atS === null ? "" : `${Math.round(atS * 1000)} ms`);
  }
  const refresh = () => queries.invalidateQueries({ queryKey: ["samples", "comments", sample.id] });
  const say = async (event: FormEvent) => {
    event.preventDefault();
    const seconds = at.trim() === "" ? null : typedOr(at, "s", undefined);
    if (seconds === undefined || (seconds ?? 0) < 0) {
      setProblem("Type a time like 120 ms or 0.12 s");
      return;
    }
    try {
      const params = { path: { sample_id: sample.id } };
      const body = { text, at_s: seconds };
      await resultOf(api.POST("/api/samples/{sample_id}/comments", { params, body }));
      setText("");
      setAt("");
      onPoint(null);
      setProblem(null);
      await refresh();
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const takeBack = async (comment_id: number) => {
    await succeeded(api.DELETE("/api/comments/{comment_id}", { params: { path: { comment_id } } }));
    await refresh();
  };
  return (
    <>
      {comments.data?.length === 0 && (
        <p className="mb-3 text-ink-2">
          No comments yet.{mayComment && " Click the waveform to set a time."}
        </p>
      )}
      <ul className="grid gap-2">
        {comments.data?.map((one) => (
          <li key={one.id} className="rounded-control border border-line bg-sheet p-2">
            <p className="flex justify-between text-[11.5px] text-ink-2">
              <span>
                {one.by}
                {one.at_s !== null && (
                  <button
                    type="button"
                    className="figure ml-1.5 text-action underline"
                    onClick={() => onPoint(one.at_s)}
                  >
                    at {lengthText(one.at_s)}
                  </button>
                )}
              </span>
              {one.own && (
                <button type="button" className="underline" onClick={() => void takeBack(one.id)}>
                  delete
                </button>
              )}
            </p>
            <p className="mt-0.5 break-words whitespace-pre-wrap">{one.text}</p>
          </li>
        ))}
      </ul>
      {mayComment && (
        <form onSubmit={(event) => void say(event)} className="mt-3 grid gap-2">
          <textarea
            aria-label="Comment"
            placeholder="Add a comment"
            rows={2}
            maxLength={4000}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className="rounded-control border border-line-strong bg-sheet px-2 py-1"
          />
          {problem && (
            <p role="alert" className="text-bad">
              {problem}
            </p>
          )}
          <div className="flex justify-between gap-2">
            <input
              aria-label="At time"
              placeholder="whole sample"
              value={at}
              onChange={(event) => setAt(event.target.value)}
              className="figure h-8 w-28 rounded-control border border-line-strong bg-sheet px-2"
            />
            <Button type="submit" disabled={text.trim() === ""}>
              Comment
            </Button>
          </div>
        </form>
      )}
    </>
  );
}
