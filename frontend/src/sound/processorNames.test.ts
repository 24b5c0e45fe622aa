import { expect, it } from "vitest";
import type { Processor } from "../api";
import { nameInChain } from "./processorNames";

const part = (id: string, kind: Processor["kind"]) => ({ id, kind }) as Processor;

it("tells two of a kind in one chain apart by their order", () => {
  const chain = [part("a", "delay"), part("b", "drive"), part("c", "delay")];
  expect(chain.map((one) => nameInChain(chain, one))).toEqual(["Delay", "Drive", "Delay 2"]);
});
