import { describe, expect, it } from "vitest";
import { aRow } from "../testing/answers";
import { EVERYTHING, fitting, grouped, partOf, queryOf, valuesOf, wantedOf } from "./filter";

const rows = [
  aRow({ id: 1, name: "Marl Pit", crop: "Onion", supply: "River", irrigator: "Tam" }),
  aRow({ id: 2, name: "Long Tye", crop: "Maize", supply: "River" }),
  aRow({ id: 3, name: "Gorse", crop: null, supply: "Bore", irrigator: "Tam" }),
];
const ids = (found: typeof rows) => found.map((r) => r.id);

describe("the board narrowed down", () => {
  it.each([
    [{ find: "tye" }, [2]],
    [{ find: " TAM " }, [1, 3]],
    [{ only: "supply:River" }, [1, 2]],
    [{ only: "crop:no crop" }, [3]],
    [{ only: "supply:River", find: "onion" }, [1]],
    [{ only: "nonsense:River" }, [1, 2, 3]],
    [{}, [1, 2, 3]],
  ])("%o", (wanted, found) => {
    expect(ids(fitting(rows, { ...EVERYTHING, ...wanted }))).toEqual(found);
  });

  it("is put in groups, the most urgent first, in their order", () => {
    expect(grouped(rows, "irrigator").map((g) => [g.name, ids(g.rows)])).toEqual([
      ["Tam", [1, 3]],
      ["no irrigator", [2]],
    ]);
    expect(grouped(rows, "")).toEqual([{ name: "", rows }]);
  });

  it("says what has no value", () => {
    expect(partOf(aRow({ supply: "" }), "supply")).toBe("no water supply");
    expect(valuesOf(rows, "crop")).toEqual(["Maize", "no crop", "Onion"]);
  });

  it("is kept in the address", () => {
    const wanted = { find: "", group: "crop" as const, only: "supply:River" };
    expect(wantedOf(new URLSearchParams(queryOf(wanted)))).toEqual(wanted);
    expect(wantedOf(new URLSearchParams("group=moon")).group).toBe("");
  });
});
