import "fake-indexeddb/auto";
import { describe, expect, it } from "vitest";
import { Refusal } from "../api/client";
import type { Job, ReportIn, ReportOut } from "./queries";
import { sendWaiting } from "./sending";
import { stateOf } from "./state";
import { keepUnsent, unsentOf, type Unsent } from "./store";

const job: Job = {
  id: 7,
  block_id: 3,
  block: "Quern Field",
  supply: "North bore",
  irrigator: null,
  running: false,
  starts_at: "2026-07-14T06:00:00Z",
  ends_at: "2026-07-14T10:00:00Z",
  hours: 4,
  gross_mm: 17,
  volume_m3: 1500,
  flow_m3_h: 378,
  meter_start_m3: null,
  note: "",
};
const made = (over: Partial<Unsent>, kind: "start" | "stop" = "start"): Unsent => ({
  key: "a",
  slug: "thistlewick",
  madeAt: Date.now() - 60_000,
  block: "Quern Field",
  refused: "",
  photo: null,
  ...over,
  report: {
    key: over.key ?? "a",
    irrigation_id: 7,
    kind,
    at: "2026-07-14T06:00:00Z",
    note: "",
  },
});

const answer = (key: string, taken: boolean): ReportOut => ({
  key,
  taken,
  repeated: false,
  message: taken ? "" : "Only a running one can be stopped.",
  problems: [],
});

describe("a job on the phone", () => {
  it("is as far as was reported there, sent or not", () => {
    expect(stateOf(job, [])).toBe("waiting");
    expect(stateOf(job, [made({})])).toBe("running");
    expect(stateOf({ ...job, running: true }, [])).toBe("running");
    expect(stateOf(job, [made({}), made({ key: "b" }, "stop")])).toBe("stopped");
  });
  it("is not moved by a report that was refused, or by another job's", () => {
    expect(stateOf(job, [made({ refused: "no" })])).toBe("waiting");
    expect(stateOf({ ...job, id: 8 }, [made({})])).toBe("waiting");
  });
});

describe("reports from the phone", () => {
  it("wait without signal, go oldest first, and stay where they are refused", async () => {
    await keepUnsent(made({ key: "late", madeAt: Date.now() - 1000 }, "stop"));
    await keepUnsent(made({ key: "early" }));
    const lost = await sendWaiting("thistlewick", () => Promise.reject(new Refusal(0, "", [])));
    expect(lost).toEqual({ sent: 0, trouble: "No signal: it will be sent later." });
    expect((await unsentOf("thistlewick")).map((u) => u.key)).toEqual(["early", "late"]);
    const asked: ReportIn[] = [];
    const sent = await sendWaiting("thistlewick", (_, reports) => {
      asked.push(...reports);
      return Promise.resolve([answer("early", true), answer("late", false)]);
    });
    expect(sent).toEqual({ sent: 1, trouble: "" });
    expect(asked.map((r) => r.key)).toEqual(["early", "late"]);
    expect(asked[0]?.age_seconds).toBeGreaterThanOrEqual(60);
    const [left] = await unsentOf("thistlewick");
    expect(left?.refused).toBe("Only a running one can be stopped.");
    // What was refused is not asked again until a person does something about it.
    const again = await sendWaiting("thistlewick", () => Promise.reject(new Error("asked")));
    expect(again).toEqual({ sent: 0, trouble: "" });
  });

  it("go after their pictures, which are sent once and hold nothing up for good", async () => {
    const photo = new Blob(["a picture"]);
    await keepUnsent(made({ key: "seen", slug: "pictures", photo }));
    await keepUnsent(made({ key: "broken", slug: "pictures", photo, madeAt: Date.now() }));
    const sent: string[] = [];
    const lost = await sendWaiting(
      "pictures",
      () => Promise.reject(new Error("asked")),
      (_, key) => {
        sent.push(key);
        return key === "seen" ? Promise.resolve() : Promise.reject(new Refusal(0, "", []));
      },
    );
    expect(lost.trouble).toBe("No signal: it will be sent later.");
    expect((await unsentOf("pictures")).map((u) => u.photo === null)).toEqual([true, false]);
    const all = await sendWaiting(
      "pictures",
      (_, reports) => Promise.resolve(reports.map((r) => answer(r.key, true))),
      (_, key) => {
        sent.push(key);
        return Promise.reject(new Refusal(422, "no picture", []));
      },
    );
    expect(all).toEqual({ sent: 2, trouble: "" });
    expect(sent).toEqual(["seen", "broken", "broken"]);
    expect(await unsentOf("pictures")).toEqual([]);
  });
});
