// @vitest-environment jsdom
import { cleanup, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { clicked, Refused, type Answers } from "../testing/clicked";
import { ChangesPage } from "./ChangesPage";
import type { Change } from "./queries";

afterEach(cleanup);

const HOLD: Change = {
  id: 7,
  at: "2026-07-14T04:00:00Z",
  by: "Maud Pellander",
  done: "hold_added",
  about: "Quern Field",
  block_id: 3,
  undone_at: null,
  undone_by: null,
  can_undo: true,
};
const RAIN: Change = { ...HOLD, id: 6, by: null, done: "rain_entered", about: "2026-07-13" };
const CHANGES = "/api/farms/f/changes";

function history(answers: Answers = {}) {
  const page = { changes: [HOLD, { ...RAIN, block_id: null, can_undo: false }], older: 6 };
  return clicked(
    <ChangesPage />,
    {
      [`GET ${CHANGES}`]: page,
      "GET /api/farms/f/people": [{ id: 2, name: "Tam Orrowby" }],
      "GET /api/farms/f/clock": { now: "2026-07-14T04:10:00Z", time_zone: "CET" },
      ...answers,
    },
    [],
  );
}

test("who, what and of which block, and who is nobody of the farm", async () => {
  history();
  const link = await screen.findByRole("link", { name: "Quern Field" });
  expect(link.getAttribute("href")).toBe("/f/blocks/3");
  expect(screen.getByText("Maud Pellander")).toBeTruthy();
  expect(screen.getByText("at the server")).toBeTruthy();
});

test("an entry is undone, and what is refused says why", async () => {
  const { user, sent } = history({
    [`POST ${CHANGES}/7/undo`]: new Refused(422, { message: "Undone before.", problems: [] }),
  });
  await user.click(await screen.findByRole("button", { name: "Undo: Hold added, Quern Field" }));
  expect(await screen.findByText("Undone before.")).toBeTruthy();
  expect(sent.map((s) => s.what)).toContain(`POST ${CHANGES}/7/undo`);
  expect(screen.getAllByRole("button", { name: /^Undo/ })).toHaveLength(1);
});
