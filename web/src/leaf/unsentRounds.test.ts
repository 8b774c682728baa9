import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it } from "vitest";
import { Refusal } from "../api/client";
import type { StemRound, StemRoundIn } from "./queries";
import { dropRound, keepRound, roundsOf, type UnsentRound } from "./roundStore";
import { sendRounds } from "./sendRounds";

const round = (key: string): StemRoundIn => ({
  key,
  started_at: "2026-07-14T13:10",
  ended_at: "2026-07-14T13:50",
  sky: "clear",
  bagged_min: 60,
  air_c: null,
  humidity: null,
  note: "",
  leaves: [{ zone: "", plant: "", mpa: -1.1 }],
});
const made = (key: string, madeAt: number): UnsentRound => ({
  key,
  slug: "thistlewick",
  madeAt,
  block: { id: 3, name: "Wick Terrace" },
  round: round(key),
  refused: "",
});
const taken = {} as StemRound;

beforeEach(async () => {
  for (const u of await roundsOf("thistlewick")) await dropRound(u.key);
});

describe("rounds of leaves on the phone", () => {
  it("are sent oldest first and kept no longer", async () => {
    await keepRound(made("b", 2));
    await keepRound(made("a", 1));
    const sent: string[] = [];
    const report = await sendRounds("thistlewick", async (_, block, body) => {
      expect(block).toBe(3);
      sent.push(body.key);
      return taken;
    });
    expect(report).toEqual({ sent: 2, trouble: "" });
    expect(sent).toEqual(["a", "b"]);
    expect(await roundsOf("thistlewick")).toEqual([]);
  });
  it("stay where there is no signal, and are not lost with a later one", async () => {
    await keepRound(made("a", 1));
    await keepRound(made("b", 2));
    const report = await sendRounds("thistlewick", async (_, __, body) => {
      if (body.key === "b") throw new Refusal(0, "", []);
      return taken;
    });
    expect(report).toEqual({ sent: 1, trouble: "No signal: it will be sent later." });
    expect((await roundsOf("thistlewick")).map((u) => u.key)).toEqual(["b"]);
  });
  it("keep the reason where they are refused, and let the next one go", async () => {
    await keepRound(made("a", 1));
    await keepRound(made("b", 2));
    const problem = { field: "leaves.0.mpa", message: "-11 MPa is no reading.", column: "" };
    const report = await sendRounds("thistlewick", async (_, __, body) => {
      if (body.key === "a") throw new Refusal(422, "The round was not saved.", [problem]);
      return taken;
    });
    expect(report).toEqual({ sent: 1, trouble: "" });
    const [left] = await roundsOf("thistlewick");
    expect(left?.refused).toBe("The round was not saved. -11 MPa is no reading.");
    // It is not tried again by itself.
    expect(await sendRounds("thistlewick", async () => taken)).toEqual({ sent: 0, trouble: "" });
  });
});
