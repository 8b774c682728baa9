import { expect, test } from "vitest";
import { answered, Refusal } from "./client";
import { retry, retryDelay } from "./retry";

const lost = new Refusal(0, "", []);
const away = new Refusal(503, "", [], 5);

test("a lost connection and a database that is away are asked again, a refusal is not", () => {
  expect([0, 1, 2].map((n) => retry(n, lost))).toEqual([true, true, false]);
  expect([0, 5, 6].map((n) => retry(n, away))).toEqual([true, true, false]);
  expect(retry(0, new Refusal(422, "", []))).toBe(false);
  expect(retry(0, new Error("ours"))).toBe(false);
});

test("after as long as the server asks for", () => {
  expect([0, 1, 2, 3, 9].map((n) => retryDelay(n, lost))).toEqual([1000, 2000, 4000, 8000, 8000]);
  expect(retryDelay(3, away)).toBe(5000);
});

/** What comes of an answer of a server whose database is away. */
const told = (after?: string) =>
  answered(
    Promise.resolve({
      error: { message: "Away.", problems: [] },
      response: new Response("", { status: 503, headers: after ? { "Retry-After": after } : {} }),
    }),
  );

test("the answer's Retry-After is kept", async () => {
  await expect(told("5")).rejects.toMatchObject({ status: 503, message: "Away.", retryAfter: 5 });
  await expect(told()).rejects.toMatchObject({ retryAfter: 0 });
  await expect(told("Wed, 21 Oct")).rejects.toMatchObject({ retryAfter: 0 });
});
