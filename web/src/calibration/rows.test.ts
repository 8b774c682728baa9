import { expect, test } from "vitest";
import { cell, EMPTY, nextRow, sheetCsv, typedRow, wholeRows, type Row } from "./rows";

const FULL = { raw: "12000", wet_g: "154,5", dry_g: "150", tare_g: "20", volume_ml: "100" };

test("cells", () => {
  expect(cell("154,5")).toBe(154.5);
  expect(cell("")).toBeNull();
  expect(cell("wet")).toBeNull();
});

test("only whole rows are worked out, and keep their place", () => {
  const rows = [EMPTY, FULL, { ...FULL, raw: "" }, FULL];
  expect(wholeRows(rows).map((r) => r.place)).toEqual([1, 3]);
  expect(wholeRows(rows)[0]?.sample.wet_g).toBe(154.5);
});

test("tins come in sets", () => {
  expect(nextRow([FULL])).toEqual({ ...EMPTY, tare_g: "20", volume_ml: "100" });
  expect(nextRow([])).toEqual(EMPTY);
});

test("a sample typed back is itself", () => {
  const sample = wholeRows([FULL])[0]?.sample;
  if (!sample) throw new Error("no sample");
  expect(wholeRows([typedRow(sample)])[0]?.sample).toEqual(sample);
});

test("a sheet saved holds its whole rows as typed", () => {
  const rows: Row[] = [
    { raw: "0,07", wet_g: "153.4", dry_g: "150", tare_g: "20", volume_ml: "100" },
    { ...EMPTY, raw: "0.1" },
  ];
  expect(sheetCsv(rows)).toBe("raw,wet_g,dry_g,tare_g,volume_ml\n0.07,153.4,150,20,100\n");
});
