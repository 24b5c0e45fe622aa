import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, errorText, resultOf } from "../../api";
import { useTryOuts } from "../../loop";
import { saveNow, useBench } from "../../sound";
import { rememberContext } from "./contextStore";

/** A try-out that is there, or a new one by a stock pattern. */
export function ContextChoice({ onChoose }: { onChoose: (id: number) => void }) {
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const tryouts = useTryOuts();
  const queries = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const patterns = useQuery({
    queryKey: ["patterns"],
    staleTime: Infinity,
    queryFn: async () => (await resultOf(api.GET("/api/tryouts/patterns"))).patterns,
  });
  const choose = (id: number) => {
    rememberContext(soundId, id);
    onChoose(id);
  };
  const begin = async (pattern: string) => {
    try {
      await saveNow();
      const params = { path: { sound_id: soundId } };
      const made = await resultOf(
        api.POST("/api/sounds/{sound_id}/tryouts", { params, body: { pattern } }),
      );
      await queries.invalidateQueries({ queryKey: ["tryouts"] });
      choose(made.id);
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  const found = [...(tryouts.data ?? [])].sort(
    (a, b) => Number(b.sound_ids.includes(soundId)) - Number(a.sound_ids.includes(soundId)),
  );
  return (
    <div className="grid gap-3">
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div>
        <h3 className="mb-1 text-[12px] font-semibold text-ink-2">
          Begin a try-out with this sound
        </h3>
        <div className="flex flex-wrap gap-1.5">
          {patterns.data?.map(({ name, label, tempo_bpm }) => (
            <button
              key={name}
              type="button"
              className="min-h-8 rounded-control border border-line-strong bg-sheet px-3 hover:bg-band"
              onClick={() => void begin(name)}
            >
              {label} <span className="figure text-[11px] text-ink-2">{tempo_bpm} bpm</span>
            </button>
          ))}
        </div>
      </div>
      {found.length > 0 && (
        <div>
          <h3 className="mb-1 text-[12px] font-semibold text-ink-2">
            Or hear it in one that is there
          </h3>
          <ul className="max-h-[34vh] overflow-y-auto rounded-control border border-line-strong bg-sheet">
            {found.map((one) => (
              <li key={one.id} className="border-b border-line">
                <button
                  type="button"
                  className="flex min-h-9 w-full items-center gap-2 px-3 text-left hover:bg-band"
                  onClick={() => choose(one.id)}
                >
                  <span className="truncate font-semibold">{one.name}</span>
                  <span className="ml-auto shrink-0 text-[12px] text-ink-2">
                    {one.sound_ids.includes(soundId)
                      ? "has this sound"
                      : "this sound stands in for a part"}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
