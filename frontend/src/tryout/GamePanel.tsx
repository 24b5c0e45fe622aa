import { useQuery } from "@tanstack/react-query";
import { Play, Square } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import {
  api,
  errorText,
  resultOf,
  TRYOUT_DEFAULTS,
  TRYOUT_KINDS,
  type GameRun,
  type GameTest,
  type TryOut,
  type TryOutPart,
} from "../api";
import { editTryOut, stopLoop, type Heard, type RoundNow } from "../loop";
import { Button, Choice } from "../ui";
import { cueSheet, GamePlayer, type Cue } from "./gamePlayer";
import { Fields } from "./Fields";
import { Neighbours } from "./Neighbours";

interface Props {
  heard: Heard;
  round: RoundNow;
}

const groupsOf = (document: TryOut) => document.parts.filter(({ plays }) => plays.kind === "group");

/** A variation group as a game would trigger it, and what is heard of neighbours. */
export function GamePanel({ heard, round }: Props) {
  const { document } = heard;
  const groups = groupsOf(document);
  const first = groups[0];
  if (!first)
    return (
      <p className="py-2 text-ink-2">
        Add a part that plays a variation group; here it is triggered as a game would, and
        neighbours that are too alike are listed.
      </p>
    );
  const game = document.game ?? { ...TRYOUT_DEFAULTS.game, part: first.id };
  const part = groups.find(({ id }) => id === game.part) ?? first;
  return <Game key={part.id} heard={heard} round={round} game={game} part={part} groups={groups} />;
}

interface GameProps extends Props {
  game: GameTest;
  part: TryOutPart;
  groups: TryOutPart[];
}

function useRun(document: TryOut, game: GameTest, run: number) {
  const asked = { ...document, game };
  return useQuery({
    queryKey: [
      "tryout-run",
      JSON.stringify({ parts: document.parts.map(({ plays }) => plays), game }),
      run,
    ],
    queryFn: () =>
      resultOf(
        api.POST("/api/tryouts/game", {
          body: { document: { ...asked }, drafts: [], run, count: 200 },
        }),
      ),
  });
}

function Game({ heard, round, game, part, groups }: GameProps) {
  const { document } = heard;
  const [run, setRun] = useState(1);
  const found = useRun(document, game, run);
  const change = (label: string, patch: Partial<GameTest>, moving = false) =>
    editTryOut(`Game test: ${label}`, (now) => ({ ...now, game: { ...game, ...patch } }), {
      gesture: `game ${Object.keys(patch)[0] ?? ""}`,
      moving,
    });
  const beds = document.parts.filter(({ plays }) => plays.kind === "bed");
  return (
    <div className="grid grid-cols-[300px_minmax(0,1fr)] gap-4 py-2 narrow:grid-cols-1">
      <div className="grid content-start gap-2">
        <div className="grid grid-cols-2 gap-2">
          <Choice
            label="Group"
            value={part.id}
            options={groups.map(({ id, name }) => [id, name] as const)}
            onChange={(id) => change("group", { part: id })}
          />
          <Choice
            label="Ambience"
            value={game.bed ?? ""}
            options={[["", "none"], ...beds.map(({ id, name }) => [id, name] as const)]}
            onChange={(id) => change("ambience", { bed: id === "" ? null : id })}
          />
        </div>
        <Fields
          declared={TRYOUT_KINDS.game}
          part={game}
          names={[
            "every_from_s",
            "every_to_s",
            "pitch_semitones",
            "level_db",
            "distance_m",
            "apart",
          ]}
          onChange={(label, patch, moving) => change(label, withOrder(game, patch), moving)}
        />
        <PlayRow
          heard={heard}
          round={round}
          game={game}
          part={part}
          run={found.data ?? null}
          onAnother={() => setRun(run + 1)}
        />
      </div>
      <div className="min-w-0 rounded-card border border-line-strong bg-sheet p-3">
        {found.error && (
          <p role="alert" className="text-bad">
            {errorText(found.error)}
          </p>
        )}
        {found.data && <Neighbours run={found.data} apart={game.apart} />}
      </div>
    </div>
  );
}

/** The shorter interval never above the longer one: the other follows. */
function withOrder(game: GameTest, patch: Partial<GameTest>): Partial<GameTest> {
  const from = patch.every_from_s ?? game.every_from_s;
  const to = patch.every_to_s ?? game.every_to_s;
  if (from <= to) return patch;
  return patch.every_from_s === undefined
    ? { ...patch, every_from_s: to }
    : { ...patch, every_to_s: from };
}

interface PlayProps extends Props {
  game: GameTest;
  part: TryOutPart;
  run: GameRun | null;
  onAnother: () => void;
}

function PlayRow({ heard, round, game, part, run, onAnother }: PlayProps) {
  const player = useRef<GamePlayer | null>(null);
  const [state, setState] = useState<"still" | "loading" | "running" | "tapping">("still");
  const [played, setPlayed] = useState<Cue[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = () => {
    player.current?.stop();
    player.current = null;
  };
  useEffect(() => stop, []);
  const begin = async (how: "running" | "tapping") => {
    if (!run) return;
    stopLoop();
    stop();
    setState("loading");
    setProblem(null);
    const made = new GamePlayer(heard, part, game, run, () => {
      setState("still");
      setPlayed([...made.played]);
    });
    player.current = made;
    try {
      await made.prepare(round.plan);
      if (player.current !== made) return;
      if (how === "running") made.start();
      setState(how);
    } catch (error) {
      setProblem(errorText(error));
      setState("still");
    }
  };
  const save = () => {
    const url = URL.createObjectURL(
      new Blob([cueSheet(heard.document, played)], { type: "text/csv" }),
    );
    const anchor = window.document.createElement("a");
    anchor.href = url;
    anchor.download = "cue-sheet.csv";
    anchor.click();
    window.setTimeout(() => URL.revokeObjectURL(url), 60_000);
  };
  const running = state === "running" || state === "tapping";
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {running ? (
        <Button look="ink" onClick={stop}>
          <Square size={13} aria-hidden /> Stop
        </Button>
      ) : (
        <Button
          look="ink"
          disabled={!run || state === "loading"}
          onClick={() => void begin("running")}
        >
          <Play size={14} aria-hidden /> Play run
        </Button>
      )}
      {state === "tapping" ? (
        <Button look="action" onPointerDown={() => player.current?.tap()}>
          Tap
        </Button>
      ) : (
        <Button disabled={!run || running} onClick={() => void begin("tapping")}>
          Tap yourself
        </Button>
      )}
      <Button disabled={running} onClick={onAnother} title="Other chances, the same rule">
        Another run
      </Button>
      <Button
        disabled={played.length === 0 || running}
        onClick={save}
        title="What was played, as CSV"
      >
        Cue sheet
      </Button>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </div>
  );
}
