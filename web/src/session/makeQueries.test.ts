import { expect, test } from "vitest";
import { Refusal } from "../api/client";
import { makeQueries } from "./makeQueries";
import { SESSION } from "./queries";

/** Whether it is asked anew who is signed in, after a question was answered so. */
async function asksWho(status: number, opened: boolean): Promise<boolean> {
  const queries = makeQueries();
  queries.setQueryData(SESSION, { person: "somebody" });
  if (opened) queries.setQueryData(["board"], {});
  await queries
    .fetchQuery({
      queryKey: ["board"],
      queryFn: () => Promise.reject(new Refusal(status, "", [])),
      staleTime: 0,
      retry: false,
    })
    .catch(() => undefined);
  return queries.getQueryState(SESSION)?.isInvalidated ?? false;
}

test("a page that does not open because the session has ended asks who is signed in", async () => {
  expect(await asksWho(401, false)).toBe(true);
});

test("one that is open keeps what was typed in it, and other refusals say nothing of it", async () => {
  expect(await asksWho(401, true)).toBe(false);
  expect(await asksWho(403, false)).toBe(false);
});
