import { expect, it } from "vitest";
import { csvOf, rowOfProblem, type TypedRow } from "./vocabularyCsv";

const row = (category: string, subcategory = "", words = ""): TypedRow => ({
  category,
  subcategory,
  words,
});

it("writes rows as CSV, with what has commas and quotes in quotes", () => {
  expect(csvOf([row("drum", "kick", "kick thump"), row("wind, rain"), row('the "big" one')])).toBe(
    'category,subcategory,words\ndrum,kick,kick thump\n"wind, rain",,\n"the ""big"" one",,\n',
  );
});

it("leaves out rows with nothing in them, and finds the row of a line again", () => {
  const rows = [row("drum"), row("  "), row("", "kick")];
  expect(csvOf(rows)).toBe("category,subcategory,words\ndrum,,\n,kick,\n");
  expect(rowOfProblem("line 3: a category has 1 to 40 letters", rows)).toBe(2);
  expect(rowOfProblem("line 1: the columns are", rows)).toBeNull();
  expect(rowOfProblem("The server does not answer", rows)).toBeNull();
  expect(rowOfProblem(null, rows)).toBeNull();
});
