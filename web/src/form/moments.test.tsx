// @vitest-environment jsdom
import { cleanup, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { shownDay } from "../time/enteredDate";
import { clicked, Holding } from "../testing/clicked";
import type { Known } from "../testing/shown";
import { DateLine } from "./DateLine";
import { MomentLine } from "./MomentLine";

afterEach(cleanup);

const CLOCK: Known = [[["farm", "f", "clock"], { now: "2026-07-14T04:10:00Z", time_zone: "CET" }]];

const held = () => screen.getByRole("status").textContent;

function moment(start = "2026-07-14T06:10") {
  return clicked(
    <Holding start={start}>
      {(value, change) => <MomentLine label="Started" value={value} change={change} />}
    </Holding>,
    {},
    CLOCK,
  );
}

function day(start = "") {
  return clicked(
    <Holding start={start}>
      {(value, change) => <DateLine label="Day" value={value} change={change} />}
    </Holding>,
    {},
    CLOCK,
  );
}

test("a moment stands in the reader's words, on a clock of 24 hours", () => {
  moment("2026-07-14T18:10");
  expect(screen.getByLabelText<HTMLInputElement>("Started").value).toBe(shownDay("2026-07-14"));
  expect(screen.getByLabelText<HTMLInputElement>("Started, time").value).toBe("18:10");
});

test("day and time are typed the way people type them", async () => {
  const { user } = moment();
  await user.clear(screen.getByLabelText("Started"));
  await user.type(screen.getByLabelText("Started"), "3 aug");
  await user.clear(screen.getByLabelText("Started, time"));
  await user.type(screen.getByLabelText("Started, time"), "6");
  await user.tab();
  expect(held()).toBe("2026-08-03T06:00");
  expect(screen.getByLabelText<HTMLInputElement>("Started").value).toBe(shownDay("2026-08-03"));
  expect(screen.getByLabelText<HTMLInputElement>("Started, time").value).toBe("06:00");
});

test("a moment that is pasted fills both", async () => {
  const { user } = moment("");
  await user.click(screen.getByLabelText("Started"));
  await user.paste("2026-07-02T21:45");
  expect(held()).toBe("2026-07-02T21:45");
});

test("what can't be read stays, is passed on, and says how to write it", async () => {
  const { user } = day();
  await user.type(screen.getByLabelText("Day"), "31 june");
  await user.tab();
  expect(held()).toBe("31 june");
  expect(screen.getByText(`Enter a day, such as ${shownDay("2026-07-14")}.`)).toBeTruthy();
  expect(screen.getByLabelText("Day").getAttribute("aria-invalid")).toBe("true");
});

test("an hour without a day, and a day without an hour", async () => {
  const { user } = moment("");
  await user.type(screen.getByLabelText("Started, time"), "2500");
  await user.tab();
  expect(screen.getByText("Enter a time of day, such as 06:10.")).toBeTruthy();
  await user.clear(screen.getByLabelText("Started, time"));
  expect(held()).toBe("");
});

test("an empty day is no mistake: it may mean always", async () => {
  const { user } = day("2026-07-01");
  await user.clear(screen.getByLabelText("Day"));
  await user.tab();
  expect(held()).toBe("");
  expect(screen.queryByText(/Enter a day/)).toBeNull();
});
