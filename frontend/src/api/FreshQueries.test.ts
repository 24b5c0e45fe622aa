import { QueryObserver } from "@tanstack/react-query";
import { expect, it } from "vitest";
import { FreshQueries } from "./FreshQueries";

/** A list on a server, whose answers are held back until they are let go. */
function slowServer() {
  const list = ["first"];
  const held: (() => void)[] = [];
  const answer = () => {
    const then = [...list];
    return new Promise<string[]>((resolve) => held.push(() => resolve(then)));
  };
  return { list, held, answer };
}

const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

it("asks again for a list whose first answer was under way when it changed", async () => {
  const queries = new FreshQueries();
  const { list, held, answer } = slowServer();
  const seen = new QueryObserver(queries, { queryKey: ["wishes", 1], queryFn: answer });
  const leave = seen.subscribe(() => undefined);
  expect(held).toHaveLength(1);
  list.push("second");
  const invalidated = queries.invalidateQueries({ queryKey: ["wishes"] });
  held[0]?.();
  await turn();
  expect(held).toHaveLength(2);
  held[1]?.();
  await invalidated;
  expect(seen.getCurrentResult().data).toEqual(["first", "second"]);
  leave();
});

it("asks once for a list that is there", async () => {
  const queries = new FreshQueries();
  const { held, answer } = slowServer();
  const seen = new QueryObserver(queries, { queryKey: ["wishes", 1], queryFn: answer });
  const leave = seen.subscribe(() => undefined);
  held[0]?.();
  await turn();
  const invalidated = queries.invalidateQueries({ queryKey: ["wishes"] });
  expect(held).toHaveLength(2);
  held[1]?.();
  await invalidated;
  expect(held).toHaveLength(2);
  leave();
});
