import { describe, expect, test } from "vitest";
import { fitting, grouped, valuesOf, type Facet } from "./narrow";

interface Row {
  name: string;
  crop: string;
}
const ROWS: Row[] = [
  { name: "North Field", crop: "potato" },
  { name: "South Field", crop: "wheat" },
  { name: "Hill", crop: "potato" },
];
const CROP: Facet<Row> = {
  label: "Crop",
  every: "all crops",
  of: (r) => r.crop,
  words: (v) => (v === "potato" ? "Zebra potato" : "Autumn wheat"),
};
const found = (find: string, values: Record<string, string> = {}) =>
  fitting(ROWS, { find, values }, (r) => `${r.name} ${r.crop}`, [CROP]).map((r) => r.name);

describe("narrowing a list down", () => {
  test.each([
    ["field", ["North Field", "South Field"]],
    ["FIELD potato", ["North Field"]],
    ["  ", ["North Field", "South Field", "Hill"]],
    ["turnip", []],
  ])("%s is found by every word", (find, names) => {
    expect(found(find)).toEqual(names);
  });

  test("by a value, and by words within it", () => {
    expect(found("", { Crop: "potato" })).toEqual(["North Field", "Hill"]);
    expect(found("hill", { Crop: "potato" })).toEqual(["Hill"]);
    expect(found("", { Crop: "" })).toHaveLength(3);
  });

  test("values and groups in the order of their words", () => {
    expect(valuesOf(ROWS, CROP)).toEqual(["wheat", "potato"]);
    expect(grouped(ROWS, CROP)).toEqual([
      { name: "Autumn wheat", rows: [ROWS[1]] },
      { name: "Zebra potato", rows: [ROWS[0], ROWS[2]] },
    ]);
    expect(grouped(ROWS, undefined)).toEqual([{ name: "", rows: ROWS }]);
  });
});
