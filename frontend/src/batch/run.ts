import { ApiError, api, errorText, resultOf } from "../api";
import { saveBatch } from "./autosave";
import { forgetPictures } from "./pictures";
import { useBatch } from "./store";
import { forgetRows, showRound } from "./useRounds";

/** Run the plan: around members that are picked, away from them, or as it stands. */
export async function runRound(away = false): Promise<void> {
  // What is typed last is in the plan that is run.
  await saveBatch();
  const { opened, plan, version, round, picked } = useBatch.getState();
  if (!opened || !plan) return;
  try {
    const params = { path: { batch_id: opened.id } };
    const bred = picked.length > 0 && round;
    const body = {
      base_version: version,
      document: { ...plan },
      parent: bred ? round.id : null,
      picked: bred ? [...picked] : [],
      away,
    };
    const made = await resultOf(api.POST("/api/batches/{batch_id}/rounds", { params, body }));
    useBatch.setState({ order: "plan", show: "all" });
    showRound(made);
  } catch (error) {
    const first = error instanceof ApiError ? error.problem?.problems?.[0]?.message : undefined;
    useBatch.setState({ problem: first ?? errorText(error) });
  }
}

const paramsOf = (id: number) => ({ path: { round_id: id } });

export async function stopRound(): Promise<void> {
  const { round } = useBatch.getState();
  if (!round) return;
  try {
    const stopped = await resultOf(
      api.POST("/api/rounds/{round_id}/stop", { params: paramsOf(round.id) }),
    );
    useBatch.setState({ round: stopped });
  } catch (error) {
    useBatch.setState({ problem: errorText(error) });
  }
}

export async function goOn(): Promise<void> {
  const { round, rows } = useBatch.getState();
  if (!round) return;
  try {
    const going = await resultOf(
      api.POST("/api/rounds/{round_id}/go-on", { params: paramsOf(round.id) }),
    );
    forgetRows([...rows.values()].filter(({ words }) => words !== "").map(({ number }) => number));
    useBatch.setState({ round: going });
  } catch (error) {
    useBatch.setState({ problem: errorText(error) });
  }
}

/** Other members in the place of some. */
export async function drawAnother(numbers: readonly number[]): Promise<void> {
  const { round } = useBatch.getState();
  if (!round) return;
  try {
    const going = await resultOf(
      api.POST("/api/rounds/{round_id}/redraw", {
        params: paramsOf(round.id),
        body: { numbers: [...numbers] },
      }),
    );
    forgetRows(numbers);
    forgetPictures(numbers);
    useBatch.setState({ round: going, problem: null });
  } catch (error) {
    useBatch.setState({ problem: errorText(error) });
  }
}
