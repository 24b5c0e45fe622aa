import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { fieldProblem, errorText, resultOf, api } from "../../api";
import { Button, DialogFrame, TextField } from "../../ui";

type What =
  | { sampleId: number; name: string }
  | { soundId: number; name: string }
  | { libraryId: number; number: string; name: string };

interface Offer {
  days: number;
  note: string;
}

function makeLink(what: What, body: Offer) {
  if ("sampleId" in what) {
    const params = { path: { sample_id: what.sampleId } };
    return resultOf(api.POST("/api/samples/{sample_id}/links", { params, body }));
  }
  if ("soundId" in what) {
    const params = { path: { sound_id: what.soundId } };
    return resultOf(api.POST("/api/sounds/{sound_id}/links", { params, body }));
  }
  const params = { path: { library_id: what.libraryId, number: what.number } };
  return resultOf(
    api.POST("/api/libraries/{library_id}/releases/{number}/links", { params, body }),
  );
}

interface Props {
  open: boolean;
  onClose: () => void;
  what: What;
}

/** A link that opens a sample, a sound or a release without an account, until it ends. */
export function ShareDialog({ open, onClose, what }: Props) {
  const [days, setDays] = useState("30");
  const [note, setNote] = useState("");
  const [link, setLink] = useState<string | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const queries = useQueryClient();
  const share = async (event: FormEvent) => {
    event.preventDefault();
    const body = { days: Number(days) || 0, note };
    try {
      const made = await makeLink(what, body);
      setLink(`${location.origin}${made.path}`);
      await queries.invalidateQueries({ queryKey: ["releases"] });
      setProblem(null);
    } catch (error) {
      setProblem(error);
    }
  };
  const close = () => {
    setLink(null);
    onClose();
  };
  return (
    <DialogFrame open={open} onClose={close} title={`Share ${what.name}`}>
      {link ? (
        <div className="grid gap-3">
          <p role="status">
            Anyone with this link can listen and download without an account. It is shown only once.
          </p>
          <code className="figure rounded-control border border-line-strong bg-sheet p-2 text-[12px] break-all select-all">
            {link}
          </code>
          <div className="flex justify-end gap-2">
            <Button onClick={() => void navigator.clipboard.writeText(link)}>Copy</Button>
            <Button look="action" onClick={close}>
              Done
            </Button>
          </div>
        </div>
      ) : (
        <form onSubmit={(event) => void share(event)} className="grid gap-3">
          <TextField
            label="Valid for (days)"
            className="w-32"
            value={days}
            problem={fieldProblem(problem, "days")}
            onChange={(event) => setDays(event.target.value)}
          />
          <TextField
            label="Note for the recipient"
            maxLength={500}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
          {problem !== null && !fieldProblem(problem, "days") && (
            <p role="alert" className="text-bad">
              {errorText(problem)}
            </p>
          )}
          <div className="flex justify-end gap-2">
            <Button onClick={close}>Cancel</Button>
            <Button look="action" type="submit">
              Make link
            </Button>
          </div>
        </form>
      )}
    </DialogFrame>
  );
}
