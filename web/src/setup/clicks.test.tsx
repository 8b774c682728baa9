// @vitest-environment jsdom
import { cleanup, screen, within } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { clicked, Refused, type Answers } from "../testing/clicked";
import { NewBlock } from "./BlockSetup";

afterEach(cleanup);

const BLOCKS = "POST /api/farms/f/blocks";
const CATALOGUE = {
  textures: ["sand", "loam"],
  system_kinds: ["solid set sprinkler", "pivot"],
  moving_kinds: ["pivot"],
  usual: [],
};

function newBlock(answers: Answers) {
  return clicked(<NewBlock />, {
    "GET /api/catalogue": CATALOGUE,
    "GET /api/farms/f/soils": [],
    "GET /api/farms/f/crops": [],
    "GET /api/farms/f/people": [],
    "POST /api/farms/f/soils/preview": { horizons: [] },
    ...answers,
  });
}

test("what is typed is sent, and each problem stands at its field", async () => {
  const problems = [
    { message: "Enter a name for the block.", field: "name" },
    { message: "Enter 100 or less.", field: "horizons.1.organic_matter" },
  ];
  const refused = new Refused(422, { message: "The block was not saved.", problems });
  const { user, sent } = newBlock({ [BLOCKS]: refused });
  await user.type(await screen.findByLabelText(/^Area/), "6,5");
  await user.type(screen.getByLabelText(/^Rate/), "8");
  const second = screen.getByRole("group", { name: /^Horizon 2/ });
  await user.clear(within(second).getByLabelText("Org. matter"));
  await user.type(within(second).getByLabelText("Org. matter"), "400");
  await user.click(screen.getByRole("button", { name: "Add block" }));
  expect(await screen.findAllByText("Enter a name for the block.")).not.toEqual([]);
  expect(within(second).getByText("Enter 100 or less.")).toBeTruthy();
  const body = sent.find((s) => s.what === BLOCKS)?.body;
  expect(body).toMatchObject({
    area_m2: 65_000,
    system: { rate_mm_h: 8, flow_m3_h: null },
    horizons: [{ bottom_mm: 300 }, { top_mm: 300, bottom_mm: 1000, organic_matter: 400 }],
  });
});

test("horizons are added below, described by percentages, and removed", async () => {
  const { user, sent } = newBlock({
    [BLOCKS]: new Refused(422, { message: "The block was not saved.", problems: [] }),
  });
  await user.click(await screen.findByRole("button", { name: "Add a horizon below" }));
  const third = screen.getByRole("group", { name: /^Horizon 3/ });
  await user.type(within(third).getByLabelText(/^Down to/), "150");
  await user.selectOptions(within(third).getByLabelText("Texture"), "by percentages");
  await user.type(within(third).getByLabelText("Sand"), "40");
  const second = screen.getByRole("group", { name: /^Horizon 2/ });
  await user.click(within(second).getByRole("button", { name: "Remove" }));
  await user.click(screen.getByRole("button", { name: "Add block" }));
  expect(await screen.findByText("The block was not saved.")).toBeTruthy();
  expect(sent.find((s) => s.what === BLOCKS)?.body).toMatchObject({
    horizons: [
      { bottom_mm: 300, texture: "loam" },
      { top_mm: 300, bottom_mm: 1500, sand: 40 },
    ],
  });
});
