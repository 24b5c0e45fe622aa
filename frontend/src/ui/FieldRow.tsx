import { useEffect, useId, useRef, useState } from "react";
import type { Parameter } from "../api";
import { type MovedRange, RangeHandles } from "./RangeHandles";
import { fromFraction, settled, toFraction } from "./scales";
import { bareUnitWords, readTyped } from "./typed";
import { formatValue, type UnitContext } from "./units";

export interface FieldChange {
  value: number;
  /** True while the hand is still moving; the last change of a gesture has false. */
  moving: boolean;
  /** Of a time that is kept as beats; without them it is in seconds. */
  beats?: number | undefined;
}

/** Longer labels take two lines of the row. */
const LONG_LABEL = 14;

interface Props {
  parameter: Parameter;
  value: number;
  /** The beats in which a time is kept; the value is then their seconds. */
  beats?: number | undefined;
  context: UnitContext;
  onChange: (change: FieldChange) => void;
  /** Shown after the value, such as the frequency of a note. */
  aside?: string;
  /** Why the value has no effect now; it is greyed then, and says so. */
  idle?: string | null;
  /** At the row's end: what moves the value. */
  ring?: React.ReactNode;
  /** Where movement takes the value. */
  range?: MovedRange | undefined;
  /** Shown below while the row has the keyboard or the hand. */
  hint?: React.ReactNode;
}

const DRAG_PIXELS = 240;

/** Name, thin bar, value: typed with its unit, dragged, turned by the wheel, nudged by keys. */
export function FieldRow(props: Props) {
  const { parameter, value, context, aside, idle = null, ring, beats } = props;
  const disabled = idle !== null;
  const [inHand, setInHand] = useState(false);
  const id = useId();
  const bar = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; fraction: number } | null>(null);
  // Dragged and turned, a time in beats stays in beats.
  const onChange = ({ value: next, moving }: FieldChange) =>
    props.onChange(
      beats === undefined
        ? { value: next, moving }
        : { value: next, moving, beats: roundedBeats((next * context.tempoBpm) / 60) },
    );
  const latest = useRef({ value, onChange, parameter });
  useEffect(() => {
    latest.current = { value, onChange, parameter };
  });
  const set = (next: number, moving = false) =>
    onChange({ value: settled(next, parameter), moving });

  const nudge = (direction: number, event: { shiftKey: boolean; altKey: boolean }) => {
    const size = event.shiftKey ? 10 : event.altKey && !parameter.whole ? 0.1 : 1;
    const step =
      parameter.scale === "log"
        ? value * (2 ** ((direction * size) / 12) - 1)
        : direction * size * parameter.step;
    set(value + step);
  };

  // React listens to the wheel passively, which could not keep the page from scrolling.
  useEffect(() => {
    const element = bar.current;
    if (!element || disabled) return;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { value: now, onChange: change, parameter: declared } = latest.current;
      const size = (event.deltaY < 0 ? 1 : -1) * (event.altKey ? 0.001 : 0.01);
      const next = declared.whole
        ? now + Math.sign(size)
        : fromFraction(toFraction(now, declared) + size, declared);
      change({ value: settled(next, declared), moving: false });
    };
    element.addEventListener("wheel", turn, { passive: false });
    return () => element.removeEventListener("wheel", turn);
  }, [disabled]);

  const keys = (event: React.KeyboardEvent) => {
    const direction = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (direction === undefined) return;
    event.preventDefault();
    nudge(direction, event);
  };

  return (
    <div
      className={`group ${disabled ? "opacity-45" : ""}`}
      title={idle ?? parameter.help}
      onFocus={() => setInHand(true)}
      onBlur={() => setInHand(false)}
    >
      <div className="flex h-6 items-center gap-2">
        <label
          htmlFor={id}
          className={`no-select w-[92px] shrink-0 ${parameter.label.length > LONG_LABEL ? "line-clamp-2 text-[11px] leading-none" : "truncate"}`}
        >
          {parameter.label}
        </label>
        <div
          ref={bar}
          role="slider"
          tabIndex={disabled ? -1 : 0}
          aria-label={`${parameter.label} bar`}
          aria-valuenow={value}
          aria-valuemin={parameter.minimum}
          aria-valuemax={parameter.maximum}
          aria-valuetext={formatValue(value, parameter.unit)}
          aria-disabled={disabled}
          aria-description={idle ?? undefined}
          className="flex h-6 min-w-10 flex-1 cursor-ew-resize touch-none items-center rounded-sm"
          onKeyDown={keys}
          onDoubleClick={() => set(parameter.default)}
          onPointerDown={(event) => {
            if (disabled || event.button !== 0) return;
            event.currentTarget.setPointerCapture(event.pointerId);
            drag.current = { x: event.clientX, fraction: toFraction(value, parameter) };
          }}
          onPointerMove={(event) => {
            if (!drag.current) return;
            const distance = (event.clientX - drag.current.x) / DRAG_PIXELS;
            const moved = drag.current.fraction + distance * (event.altKey ? 0.1 : 1);
            set(fromFraction(moved, parameter), true);
          }}
          onPointerUp={() => {
            if (drag.current) onChange({ value, moving: false });
            drag.current = null;
          }}
        >
          <div className="relative h-1 w-full rounded-full bg-line-strong">
            <div
              className="h-1 rounded-full bg-ink"
              style={{ width: `${toFraction(value, parameter) * 100}%` }}
            />
            {props.range && !disabled && <RangeHandles parameter={parameter} range={props.range} />}
          </div>
        </div>
        <ValueField
          id={id}
          parameter={parameter}
          value={value}
          context={context}
          disabled={disabled}
          aside={aside}
          beats={beats}
          onNudge={nudge}
          onValue={(next, typed) =>
            props.onChange({
              value: typed === undefined ? settled(next, parameter) : next,
              moving: false,
              beats: typed,
            })
          }
        />
        {ring}
      </div>
      {inHand && !disabled && props.hint}
    </div>
  );
}

const roundedBeats = (beats: number) => Math.round(beats * 1000) / 1000;

/** How long a refusal stays in sight of someone who has gone on. */
const REFUSAL_MS = 4000;

interface ValueFieldProps {
  id: string;
  /** The beats in which a time is kept, and shown. */
  beats?: number | undefined;
  parameter: Parameter;
  value: number;
  context: UnitContext;
  disabled?: boolean;
  aside?: string | undefined;
  className?: string;
  label?: string;
  onNudge: (direction: number, event: { shiftKey: boolean; altKey: boolean }) => void;
  /** Why a value in range cannot be taken all the same; null where it can. */
  refuse?: (value: number) => string | null;
  /** ``beats`` where the value was typed in beats. */
  onValue: (value: number, beats?: number) => void;
}

/** The value alone: shows its unit, takes typing, and says at the spot what is wrong. */
export function ValueField(props: ValueFieldProps) {
  const { id, parameter, value, context, disabled = false, aside, className = "w-[88px]" } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const edited = useRef(false);
  const { beats } = props;
  const own = beats === undefined ? formatValue(value, parameter.unit) : formatValue(beats, "beat");
  const shown = own + (aside ? ` ${aside}` : "");

  /** Commit what was typed; a field that was only visited commits nothing. */
  const finish = () => {
    if (typed === null || !edited.current) return true;
    const parsed = readTyped(typed, parameter, value, { ...context, inBeats: beats !== undefined });
    const wrong = parsed.ok ? (props.refuse?.(parsed.value) ?? null) : parsed.message;
    setProblem(wrong);
    if (wrong !== null || !parsed.ok) return false;
    edited.current = false;
    setTyped(null);
    props.onValue(parsed.value, parsed.beats);
    return true;
  };

  return (
    <span className={`relative shrink-0 ${className}`}>
      <input
        id={id}
        type="text"
        aria-label={props.label}
        disabled={disabled}
        spellCheck={false}
        autoComplete="off"
        aria-invalid={problem !== null}
        aria-describedby={problem ? `${id}-problem` : undefined}
        title={
          beats === undefined
            ? bareUnitWords(parameter, value, false)
            : formatValue(value, parameter.unit)
        }
        className={`figure h-6 w-full rounded-sm border-b border-dotted bg-transparent px-1 text-right ${problem ? "border-bad text-bad" : "border-ink-3"}`}
        value={typed ?? shown}
        onFocus={(event) => {
          edited.current = false;
          setTyped(own);
          const input = event.currentTarget;
          // Not where Tab has gone on in the meantime, or typing has begun.
          requestAnimationFrame(() => {
            if (document.activeElement === input && !edited.current) input.select();
          });
        }}
        onChange={(event) => {
          edited.current = true;
          setTyped(event.target.value);
          setProblem(null);
        }}
        onBlur={() => {
          // What was refused is said, though the field shows again what it had.
          if (!finish()) window.setTimeout(() => setProblem(null), REFUSAL_MS);
          setTyped(null);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") {
            if (finish()) event.currentTarget.blur();
          } else if (event.key === "Escape") {
            edited.current = false;
            setTyped(null);
            setProblem(null);
            event.currentTarget.blur();
          } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
            event.preventDefault();
            setTyped(null);
            props.onNudge(event.key === "ArrowUp" ? 1 : -1, event);
          }
        }}
      />
      {problem && (
        <span
          id={`${id}-problem`}
          role="alert"
          className="absolute top-full right-0 z-20 rounded-sm border border-bad bg-sheet px-2 py-1 text-[11px] whitespace-nowrap text-bad"
        >
          {problem}
        </span>
      )}
    </span>
  );
}
