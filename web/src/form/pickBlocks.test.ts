import { expect, test } from "vitest";
import { blockGroups, withBlocks, type PickableBlock } from "./pickBlocks";

const block = (id: number, name: string, more: Partial<PickableBlock> = {}): PickableBlock => ({
  id,
  name,
  system: "drip",
  supply: "",
  irrigator: null,
  ...more,
});
const BLOCKS = [
  block(1, "Block 10", { supply: "North bore" }),
  block(2, "Block 2", { irrigator: "Tam Orrowby" }),
  block(3, "Long Tye", { system: "centre_pivot", supply: "North bore" }),
];
const told = (find: string, by: "" | "supply" | "irrigator" = "") =>
  blockGroups(BLOCKS, find, by).map((g) => [g.name, ...g.blocks.map((b) => b.name)]);

test("every word must be found, in whatever tells of the block", () => {
  expect(told("")).toEqual([["", "Block 2", "Block 10", "Long Tye"]]);
  expect(told("block north")).toEqual([["", "Block 10"]]);
  expect(told("TAM")).toEqual([["", "Block 2"]]);
  expect(told("pivot")).toEqual([["", "Long Tye"]]);
  expect(told("nowhere")).toEqual([]);
});

test("groups by name; what has none stands in a group of its own", () => {
  expect(told("", "supply")).toEqual([
    ["No water supply", "Block 2"],
    ["North bore", "Block 10", "Long Tye"],
  ]);
  expect(told("", "irrigator")).toEqual([
    ["No irrigator", "Block 10", "Long Tye"],
    ["Tam Orrowby", "Block 2"],
  ]);
});

test("a group is added to the selection or taken out of it, and nothing else is", () => {
  const two = BLOCKS.slice(0, 2);
  expect(withBlocks([3, 1], two, true)).toEqual([3, 1, 2]);
  expect(withBlocks([3, 1], two, false)).toEqual([3]);
});
