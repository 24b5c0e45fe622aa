import { Button } from "./Button";

interface Props {
  title: React.ReactNode;
  /** What is said of it, in small letters. */
  facts: React.ReactNode;
  faint?: boolean;
  /** What can be done with it, if anything. */
  verb?: string | undefined;
  onDo?: () => void;
  /** Another thing to do, before it. */
  children?: React.ReactNode;
}

/** A line of a short list: what it is, what is known of it, and one thing to do. */
export function FactRow({ title, facts, faint = false, verb, onDo, children }: Props) {
  return (
    <li className="flex items-center gap-3 border-b border-line py-1">
      <span className={`min-w-0 flex-1 truncate ${faint ? "text-ink-3" : "font-medium"}`}>
        {title}
      </span>
      <span className="text-[12px] text-ink-2">{facts}</span>
      {children}
      {verb && (
        <Button look="quiet" onClick={onDo}>
          {verb}
        </Button>
      )}
    </li>
  );
}
