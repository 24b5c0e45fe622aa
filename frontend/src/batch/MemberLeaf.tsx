import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, errorText, resultOf, type JudgedRound } from "../api";
import { Button, formatValue, noteName, type Unit } from "../ui";
import { FamilyDots } from "./FamilyDots";
import { judge, star } from "./history";
import { placeOf } from "./ordered";
import { drawAnother } from "./run";
import { editPlan, useBatch } from "./store";
import { takeInHand, togglePicked } from "./useKeys";
import { MARK_WORDS } from "./words";

/** The member in hand: its place in the family, what differs, what to do with it. */
export function MemberLeaf({ judged }: { judged: JudgedRound | undefined }) {
  const round = useBatch((state) => state.round);
  const number = useBatch((state) => state.inHand);
  const row = useBatch((state) => state.rows.get(state.inHand));
  const id = round?.id ?? 0;
  const detail = useQuery({
    queryKey: ["member", id, number, row?.times ?? 0],
    enabled: round !== null && number <= round.count,
    queryFn: () =>
      resultOf(
        api.GET("/api/rounds/{round_id}/members/{number}", {
          params: { path: { round_id: id, number } },
        }),
      ),
  });
  if (!round)
    return (
      <aside
        aria-label="Member in hand"
        className="min-h-0 overflow-y-auto bg-panel p-4 text-ink-2"
      >
        The member in hand is shown here once a round was run.
      </aside>
    );
  const hit = detail.data?.hit as { note: number; velocity: number; number: number } | undefined;
  return (
    <aside aria-label="Member in hand" className="min-h-0 overflow-y-auto bg-panel p-4">
      <h2 className="font-title text-[15px] font-semibold">Member {number}</h2>
      <p className="mb-2 text-[12px] text-ink-2">
        {[
          row?.verdict,
          hit ? noteName(hit.note) : null,
          hit ? `velocity ${hit.velocity}` : null,
          hit ? `hit ${hit.number}` : null,
          (round.plan["sounds"] as unknown[]).length > 1 ? detail.data?.name : null,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <Actions number={number} />
      <h3 className="mt-4 mb-1 text-[12px] font-semibold">In the family</h3>
      <FamilyDots number={number} judged={judged} />
      <h3 className="mt-4 mb-1 text-[12px] font-semibold">What differs from the original</h3>
      {detail.data?.values.length === 0 && <p className="text-[12.5px] text-ink-2">Nothing.</p>}
      <ul className="grid gap-1 text-[12px]">
        {detail.data?.values.map((one) => (
          <li key={one.target}>
            {one.owner}: {one.label}{" "}
            <span className="figure whitespace-nowrap">
              {formatValue(one.base, one.unit as Unit)} → {formatValue(one.value, one.unit as Unit)}
            </span>
          </li>
        ))}
      </ul>
      <Remarks number={number} judged={judged} />
    </aside>
  );
}

function Actions({ number }: { number: number }) {
  const navigate = useNavigate();
  const round = useBatch((state) => state.round);
  const row = useBatch((state) => state.rows.get(number));
  const picked = useBatch((state) => state.picked.includes(number));
  const [busy, setBusy] = useState(false);
  const made = row?.words === "";
  const asSound = async (then: (sound: number) => void) => {
    if (!round) return;
    setBusy(true);
    try {
      const params = { path: { round_id: round.id, number } };
      const { sound_id } = await resultOf(
        api.POST("/api/rounds/{round_id}/members/{number}/sound", { params }),
      );
      then(sound_id);
    } catch (error) {
      useBatch.setState({ problem: errorText(error) });
    } finally {
      setBusy(false);
    }
  };
  const asOriginal = (sound: number) =>
    editPlan(`Member ${number} is the original`, (plan) => ({
      ...plan,
      sounds: plan.sounds.map((one, n) => (n === 0 ? { ...one, sound, revision: null } : one)),
    }));
  return (
    <div className="grid grid-cols-2 gap-1.5">
      <Button
        disabled={!made}
        aria-pressed={row?.verdict === "kept"}
        onClick={() => judge([number], "kept")}
      >
        Keep
      </Button>
      <Button
        disabled={!made}
        aria-pressed={row?.verdict === "rejected"}
        onClick={() => judge([number], "rejected")}
      >
        Reject
      </Button>
      <Button
        look={picked ? "ink" : "plain"}
        disabled={!made}
        title="Pick it: the next round is drawn around what is picked, or away from it"
        onClick={() => togglePicked(number)}
      >
        {picked ? "Picked" : "More like this"}
      </Button>
      <Button disabled={!made} aria-pressed={row?.starred ?? false} onClick={() => star(number)}>
        {row?.starred ? "Starred" : "Star"}
      </Button>
      <Button disabled={!row || row.sample_id !== null} onClick={() => void drawAnother([number])}>
        Draw another
      </Button>
      <Button
        disabled={!made || busy}
        title="As a sound of its own beside the original"
        onClick={() => void asSound((sound) => void navigate(`/bench/${sound}`))}
      >
        Open on Bench
      </Button>
      <Button
        look="quiet"
        className="col-span-2"
        disabled={!made || busy}
        title="The plan varies this member from now on"
        onClick={() => void asSound(asOriginal)}
      >
        Use as the original
      </Button>
    </div>
  );
}

function Remarks({ number, judged }: { number: number; judged: JudgedRound | undefined }) {
  const row = useBatch((state) => state.rows.get(number));
  const at = placeOf(judged, number);
  const marks = at === undefined ? [] : (judged?.marks[at] ?? []);
  const codes = [...(row?.flags ?? []), ...marks];
  if (codes.length === 0) return null;
  const nearest = at === undefined ? null : judged?.nearest[at];
  return (
    <>
      <h3 className="mt-4 mb-1 text-[12px] font-semibold">Remarks</h3>
      <ul className="grid gap-1 text-[12.5px]">
        {codes.map((code) => (
          <li key={code}>
            <span className="font-semibold text-warn">!</span>{" "}
            {code === "alike" && nearest != null ? (
              <>
                nearly the same as{" "}
                <button type="button" className="underline" onClick={() => takeInHand(nearest)}>
                  member {nearest}
                </button>
              </>
            ) : (
              (MARK_WORDS[code] ?? code)
            )}
            <span className="ml-2 whitespace-nowrap">
              <button
                type="button"
                className="mr-2 underline"
                onClick={() => judge([number], "rejected")}
              >
                reject
              </button>
              <button
                type="button"
                className="underline"
                onClick={() => void drawAnother([number])}
              >
                draw another
              </button>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
