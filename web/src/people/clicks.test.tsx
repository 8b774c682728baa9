// @vitest-environment jsdom
import { cleanup, screen, within } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { clicked, Refused, type Answers } from "../testing/clicked";
import type { Known } from "../testing/shown";
import PasswordSheet from "./PasswordSheet";
import { PeopleList } from "./PeopleList";
import type { Person } from "./queries";

afterEach(cleanup);

const MAUD: Person = {
  id: 1,
  name: "Maud Pellander",
  role: "manager",
  you: true,
  email: "m@example.org",
  signed_in_at: "2026-07-13T05:00:00Z",
  invited: false,
};
const JORY: Person = {
  id: 2,
  name: "Jory Fenn",
  role: "scout",
  you: false,
  email: "jory@fenn.example",
  signed_in_at: null,
  invited: true,
};
const PEOPLE = "/api/farms/f/people";

function people(answers: Answers = {}) {
  const known: Known = [
    [
      ["farm", "f", "people"],
      [MAUD, JORY],
    ],
    [["farm", "f", "clock"], { now: "2026-07-14T04:10:00Z", time_zone: "CET" }],
  ];
  return clicked(<PeopleList />, { [`GET ${PEOPLE}`]: [MAUD, JORY], ...answers }, known);
}

test("a person is added by Enter, and the link to send is shown", async () => {
  const { user, sent } = people({ [`POST ${PEOPLE}`]: { person: JORY, token: "tok" } });
  await user.click(screen.getByRole("button", { name: "Add a person" }));
  const sheet = await screen.findByRole("dialog");
  await user.type(within(sheet).getByLabelText("Name"), "Jory Fenn");
  await user.selectOptions(within(sheet).getByLabelText("Role"), "scout");
  await user.type(within(sheet).getByLabelText("E-mail"), "jory@fenn.example{Enter}");
  expect(await screen.findByText(/\/join#tok$/)).toBeTruthy();
  expect(sent[0]).toEqual({
    what: `POST ${PEOPLE}`,
    body: { name: "Jory Fenn", email: "jory@fenn.example", role: "scout" },
  });
});

test("what is refused stands at its input, and nothing typed is lost", async () => {
  const message = "Jory Fenn belongs to this farm already.";
  const problems = [{ field: "email", message, row: null, column: "" }];
  const { user } = people({
    [`POST ${PEOPLE}`]: new Refused(422, { message: "The person was not added.", problems }),
  });
  await user.click(screen.getByRole("button", { name: "Add a person" }));
  await user.type(await screen.findByLabelText("Name"), "Jory");
  await user.click(screen.getByRole("button", { name: "Add and show the link" }));
  expect(await screen.findByText(message)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("Jory");
});

test("a role is changed where it stands", async () => {
  const { user, sent } = people({ [`PATCH ${PEOPLE}/2`]: { ...JORY, role: "viewer" } });
  await user.selectOptions(screen.getByLabelText("Role of Jory Fenn"), "viewer");
  expect(sent[0]).toEqual({ what: `PATCH ${PEOPLE}/2`, body: { role: "viewer" } });
});

test("nobody is removed by one click", async () => {
  const { user, sent } = people({ [`DELETE ${PEOPLE}/2`]: { done: true } });
  await user.click(screen.getByRole("button", { name: "Remove Jory Fenn" }));
  const sheet = await screen.findByRole("dialog");
  expect(sent).toEqual([]);
  await user.click(within(sheet).getByRole("button", { name: "Remove Jory Fenn" }));
  expect(sent[0]?.what).toBe(`DELETE ${PEOPLE}/2`);
});

test("who has not come yet gets a new link", async () => {
  const { user } = people({ [`POST ${PEOPLE}/2/invitation`]: { token: "new" } });
  expect(screen.queryByRole("button", { name: "New link for Maud Pellander" })).toBeNull();
  await user.click(screen.getByRole("button", { name: "New link for Jory Fenn" }));
  expect(await screen.findByText(/\/join#new$/)).toBeTruthy();
});

test("a password is changed, and it is said what that does", async () => {
  const session = { person: null, farms: [], demo: false, csrf_token: "t" };
  const { user, sent } = clicked(<PasswordSheet close={() => undefined} />, {
    "PUT /api/me/password": session,
  });
  await user.type(screen.getByLabelText(/Current password/), "old one");
  await user.type(screen.getByLabelText(/New password/), "three wet furrows{Enter}");
  expect(await screen.findByText("Password saved")).toBeTruthy();
  expect(sent[0]?.body).toEqual({ current: "old one", password: "three wet furrows" });
});
