// @vitest-environment jsdom
import { cleanup, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { clicked } from "../testing/clicked";
import { List, type Column } from "./List";

afterEach(cleanup);

const ROWS = [
  { id: 1, name: "North", crop: "potato" },
  { id: 2, name: "South", crop: "wheat" },
  { id: 3, name: "Hill", crop: "potato" },
];

type Block = (typeof ROWS)[number];
const COLUMNS: Column<Block>[] = [
  { key: "name", label: "Name", cell: (r) => <a href={`#${r.id}`}>{r.name}</a> },
  { key: "crop", label: "Crop", cell: (r) => r.crop },
];

function Blocks() {
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const summary = (shown: Block[]) => (
    <output>
      {shown.length} shown, {[...picked].toSorted((a, b) => a - b).join(" ")} picked
    </output>
  );
  return (
    <List
      rows={ROWS}
      keyOf={(r) => r.id}
      columns={COLUMNS}
      find={{ label: "Find", text: (r) => r.name }}
      facets={[{ label: "Crop", every: "all crops", of: (r) => r.crop }]}
      picking={{ label: "All", name: (r) => r.name, picked, change: setPicked }}
      summary={summary}
      noMatch="Nothing matches."
    />
  );
}
const said = () => document.querySelector("output")?.textContent;
const names = () => screen.queryAllByRole("link").map((a) => a.textContent);

test("found by a word, narrowed down by a value, and nothing left says so", async () => {
  const { user } = clicked(<Blocks />);
  await user.selectOptions(screen.getByLabelText("Crop"), "potato");
  expect(names()).toEqual(["North", "Hill"]);
  await user.type(screen.getByLabelText("Find"), "hill");
  expect(names()).toEqual(["Hill"]);
  await user.type(screen.getByLabelText("Find"), "x");
  expect(screen.getByText("Nothing matches.")).toBeTruthy();
});

test("in groups, each with its count", async () => {
  const { user } = clicked(<Blocks />);
  await user.selectOptions(screen.getByLabelText("Group by"), "Crop");
  expect(screen.getByRole("rowheader", { name: "potato (2)" })).toBeTruthy();
  expect(screen.getByRole("rowheader", { name: "wheat (1)" })).toBeTruthy();
  expect(names()).toEqual(["North", "Hill", "South"]);
});

test("by keyboard: arrows go from name to name, the space bar picks", async () => {
  const { user } = clicked(<Blocks />);
  screen.getByRole("link", { name: "North" }).focus();
  await user.keyboard("{ArrowDown}{ArrowDown}{ArrowDown}");
  expect(document.activeElement?.textContent).toBe("Hill");
  await user.keyboard("{ArrowUp}[Space]");
  expect(document.activeElement?.textContent).toBe("South");
  expect(said()).toBe("3 shown, 2 picked");
});

test("all that are shown are picked at once, and no others", async () => {
  const { user } = clicked(<Blocks />);
  await user.selectOptions(screen.getByLabelText("Crop"), "potato");
  await user.click(screen.getByLabelText("All"));
  expect(said()).toBe("2 shown, 1 3 picked");
  await user.click(screen.getByLabelText("All"));
  expect(said()).toBe("2 shown,  picked");
});
