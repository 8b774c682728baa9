// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { clicked } from "../testing/clicked";
import { ANYWHERE, Around } from "../testing/shown";
import { Line } from "./Labelled";
import { notNumber } from "./notNumber";
import { NumberLine } from "./NumberLine";

afterEach(cleanup);

function Held({ measured }: { measured?: "water" }) {
  const [value, setValue] = useState<number | null>(measured ? 25.4 : null);
  return (
    <>
      <NumberLine label="Width" value={value} change={setValue} {...(measured && { measured })} />
      <output>{JSON.stringify(value)}</output>
    </>
  );
}

const held = () => screen.getByRole("status").textContent;
const input = () => screen.getByLabelText<HTMLInputElement>("Width");

test("a decimal can be typed, with a point or a comma", async () => {
  const { user } = clicked(<Held />);
  await user.type(input(), "7.5");
  expect([input().value, held()]).toEqual(["7.5", "7.5"]);
  await user.clear(input());
  await user.type(input(), "7,25");
  expect([input().value, held()]).toEqual(["7,25", "7.25"]);
  await user.clear(input());
  expect(held()).toBe("null");
});

test("a measure is typed in the person's unit", async () => {
  const user = userEvent.setup();
  render(
    <Around units="us" may known={[]} at={ANYWHERE}>
      <Held measured="water" />
    </Around>,
  );
  expect(input().value).toBe("1");
  await user.clear(input());
  await user.type(input(), "14.2");
  // 14.2 x 25.4 mm
  expect(Number(held())).toBeCloseTo(360.68, 6);
});

test("what is no number is said, and keeps a form from being sent", async () => {
  let sent = 0;
  const { user } = clicked(
    <form
      onSubmit={(event) => {
        event.preventDefault();
        sent += 1;
      }}
    >
      <Held />
      <button type="submit">Save</button>
    </form>,
  );
  await user.type(input(), "12x");
  expect(screen.getByText("“12x” is no number.")).toBeTruthy();
  expect(input().validity.customError).toBe(true);
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(sent).toBe(0);
  await user.type(input(), "{Backspace}");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(sent).toBe(1);
});

test.each([
  ["1,200", "“1,200” can be read in two ways: enter 1200 or 1.200."],
  ["12x", "“12x” is no number."],
  ["1,2,3", "“1,2,3” is no number."],
])("%s is asked about", (text, said) => {
  expect(notNumber(text)).toBe(said);
});

test.each(["", " ", "0,250", "1,25", "1.200", "-3", "12 "])("“%s” is taken", (text) => {
  expect(notNumber(text)).toBeUndefined();
});

test("words are no wrong numbers where none are meant", () => {
  clicked(<Line label="Width" value="12x" change={() => undefined} />);
  expect(input().validity.customError).toBe(false);
});
