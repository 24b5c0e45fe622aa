import { Button } from "./Button";
import { progressWords } from "./progressWords";

interface Props {
  verb: string;
  work: { done: number; of: number; seconds: number };
  onStop: () => void;
}

/** How far long work is, with a way to stop it. */
export function ProgressLine({ verb, work, onStop }: Props) {
  return (
    <div role="status" className="flex items-center gap-2 text-[12.5px]">
      <progress
        aria-label={verb}
        value={work.done}
        max={Math.max(1, work.of)}
        className="h-1.5 w-32 shrink-0"
      />
      <span className="figure min-w-0 flex-1">
        {verb} {progressWords(work)}
      </span>
      <Button look="quiet" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}
