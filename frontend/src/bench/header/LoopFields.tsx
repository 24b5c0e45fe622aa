import { useEffect, useId, useState } from "react";
import { ApiError, useDeclarations } from "../../api";
import { playLoop, renderHit, stopPlaying, usePlayer } from "../../audio";
import { BEATS_A_BAR, Button, ValueField } from "../../ui";
import { useBench } from "../../sound";
import { type Loop, NO_LOOP, hitWithLoop } from "./loop";

const FIRST_BARS = 4;
const KEY = "loop of the take";

interface Props {
  loop: Loop;
  onLoop: (loop: Loop) => void;
}

/** Whether the take is a seamless loop, how long it is, and how it sounds over and over. */
export function LoopFields({ loop, onLoop }: Props) {
  const id = useId();
  const parameter = useDeclarations().data?.hit.parameters.find(({ name }) => name === "loop_s");
  const tempoBpm = useBench((state) => state.document?.tempo_bpm ?? 120);
  const beats = FIRST_BARS * BEATS_A_BAR;
  const whole: Loop = { on: true, beats, lengthS: (beats * 60) / tempoBpm };
  const change = (lengthS: number, inBeats?: number) =>
    onLoop({ on: true, lengthS, beats: inBeats });
  return (
    <div className="flex h-8 items-center gap-3">
      <label
        className="flex items-center gap-2"
        title="The sound is held, and ends where it began."
      >
        <input
          type="checkbox"
          checked={loop.on}
          onChange={(event) => onLoop(event.target.checked ? whole : NO_LOOP)}
        />
        Seamless loop
      </label>
      {loop.on && parameter && (
        <>
          <label htmlFor={id} className="sr-only">
            Loop length
          </label>
          <ValueField
            id={id}
            label="Loop length"
            parameter={parameter}
            value={loop.lengthS}
            beats={loop.beats}
            context={{ tempoBpm }}
            onNudge={(direction) => {
              if (loop.beats === undefined) return change(Math.max(0.01, loop.lengthS + direction));
              const next = Math.max(1, loop.beats + direction * BEATS_A_BAR);
              change((next * 60) / tempoBpm, next);
            }}
            onValue={change}
          />
          <ListenButton loop={loop} />
        </>
      )}
    </div>
  );
}

/** Plays the loop over and over. */
function ListenButton({ loop }: { loop: Loop }) {
  const plays = usePlayer(({ key }) => key === KEY);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => stopPlaying, []);
  const listen = async () => {
    if (plays) return stopPlaying();
    const { document } = useBench.getState();
    if (!document) return;
    setProblem(null);
    try {
      playLoop(await renderHit(document, hitWithLoop(document.hit, loop)), KEY);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The loop could not be rendered");
    }
  };
  return (
    <>
      <Button onClick={() => void listen()}>{plays ? "Stop" : "Listen"}</Button>
      {problem && (
        <span role="alert" className="text-[12px] text-bad">
          {problem}
        </span>
      )}
    </>
  );
}
