import type { ReactElement } from "react";
import { describe, expect, it } from "vitest";
import { workedOut } from "../testing/calculator";
import { shown } from "../testing/shown";
import tables from "../testing/tables.json";
import { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import { BalanceTable } from "./BalanceTable";
import { DayTable } from "./DayTable";
import { LayerTable } from "./LayerTable";
import type { BlockData, LayerRow } from "./queries";

/* The tables of the demo's tensiometer block, whose soil changes within one sensor's layer and whose
   roots still grow, worked out from what stands in the cells alone. */

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const block = tables as unknown as BlockData;

const plain = (markup: string) =>
  markup
    .replaceAll(/<[^>]*>/g, " ")
    .replaceAll(/\s+/g, " ")
    .trim();

const of = (row: string, tag: string) =>
  [...row.matchAll(new RegExp(`<${tag}[^>]*>(.*?)</${tag}>`, "g"))].map((m) => plain(m[1] ?? ""));

/** A table as its cells, a row each; a second line in a cell follows after a space. */
function cells(table: ReactElement, units: UnitSystem): { heads: string[]; rows: string[][] } {
  const html = shown(table, units);
  const rows = html.split("<tr").slice(1);
  return { heads: of(rows[0] ?? "", "th"), rows: rows.slice(1).map((r) => of(r, "td")) };
}

function column(heads: string[], name: string): number {
  const at = heads.findIndex((h) => h.startsWith(name));
  expect(at, `${name} among ${heads.join(", ")}`).toBeGreaterThanOrEqual(0);
  return at;
}

const figureIn = (cell: string | undefined) => workedOut((cell ?? "").replace(/[ %*].*$/, ""));
/** The last digit that tables of depths show. */
const LAST: Record<UnitSystem, number> = { metric: 0.01, us: 0.001 };

describe.each(["metric", "us"] as const)("by a calculator, in %s units,", (units) => {
  const last = LAST[units];

  it("each layer's deficit comes of its reading", () => {
    const { heads, rows } = cells(
      <LayerTable layers={tables.layers as LayerRow[]} time={time} />,
      units,
    );
    const at = (row: string[], name: string) => row[column(heads, name)] ?? "";
    expect(rows.filter((r) => at(r, "Water content").includes("ψ2"))).toHaveLength(1);
    for (const row of rows) {
      const content = at(row, "Water content");
      const [theta = "", ...pairs] = content.split(" ");
      const named = new Map(
        Array.from({ length: pairs.length / 2 }, (_, i) => [pairs[2 * i], pairs[2 * i + 1]]),
      );
      const f = (name: string) => Number(named.get(name));
      let psi = figureIn(at(row, "Reading"));
      if (named.has("ψ2")) {
        psi = f("f2") * (1500 / f("f2")) ** (Math.log(psi / f("f1")) / Math.log(1500 / f("f1")));
        expect(psi).toBeCloseTo(f("ψ2"), 3);
      }
      const content2 = Math.min((f("A") / psi) ** (1 / f("B")), f("θs"));
      expect(content2, content).toBeCloseTo(Number(theta), 5);
      const [full = 0, wilting = 0] = at(row, "Full").split(" – ").map(Number);
      const left = (Number(theta) - wilting) / (full - wilting);
      expect(Math.abs(100 * left - figureIn(at(row, "Left")))).toBeLessThan(0.06);
      const [top = 0, bottom = 0] = at(row, "Represents").split(/[– ]/).map(Number);
      const thick = (bottom - top) * (units === "metric" ? 10 : 1);
      const available = figureIn(at(row, "Available"));
      expect(Math.abs(thick * (full - wilting) - available)).toBeLessThan(1.5 * last);
      const deficit = available * (1 - left);
      expect(Math.abs(deficit - figureIn(at(row, "Deficit")))).toBeLessThan(1.01 * last);
    }
  });

  it("each day's deficit comes of the day before it", () => {
    const { heads, rows } = cells(<DayTable days={tables.days} time={time} />, units);
    const at = (row: string[] | undefined, name: string) =>
      heads.some((h) => h.startsWith(name)) ? figureIn(row?.[column(heads, name)]) : 0;
    for (const [i, row] of rows.entries()) {
      const use = at(row, "Kc") * at(row, "ET0") * at(row, "Ks") * tables.weighed.use_factor;
      expect(Math.abs(use + at(row, "Soil") - at(row, "Use"))).toBeLessThan(2 * last);
      const left = at(row, "p") * at(row, "TAW") - at(row, "Deficit");
      expect(Math.abs(left - at(row, "Above refill"))).toBeLessThan(2 * last);
      if (i === 0) continue;
      const was = rows[i - 1];
      const more = at(was, "Use") + at(was, "Drainage") + at(was, "New soil") - at(was, "Water in");
      const next = at(was, "Deficit") + more;
      expect(Math.abs(next - at(row, "Deficit"))).toBeLessThan(2 * last);
    }
    expect(rows.length).toBeGreaterThan(1);
  });

  it("each row of the balance comes of the one before it", () => {
    const { heads, rows } = cells(<BalanceTable block={block} time={time} />, units);
    const at = (row: string[] | undefined, name: string) =>
      heads.some((h) => h.startsWith(name)) ? figureIn(row?.[column(heads, name)]) : 0;
    expect(rows).toHaveLength(10);
    expect(rows.some((r) => at(r, "New soil") > 0)).toBe(true);
    for (const [i, row] of rows.entries()) {
      if (i === 0) continue;
      const was = rows[i - 1];
      const gone = at(was, "Use") + at(was, "Drainage") + at(was, "New soil") - at(was, "Water in");
      const next = at(was, "Deficit") + gone;
      expect(Math.abs(next - at(row, "Balance")), row[0]).toBeLessThan(2.5 * last);
    }
  });

  it("the sensors' deficit of the last morning is the sum of the layers read then", () => {
    const balance = cells(<BalanceTable block={block} time={time} />, units);
    const layers = cells(<LayerTable layers={tables.layers as LayerRow[]} time={time} />, units);
    const deficit = column(layers.heads, "Deficit");
    const sum = layers.rows.reduce((all, row) => all + figureIn(row[deficit]), 0);
    const said = figureIn(balance.rows.at(-1)?.[column(balance.heads, "Sensors")]);
    expect(Math.abs(sum - said)).toBeLessThan(2.5 * last);
  });
});
