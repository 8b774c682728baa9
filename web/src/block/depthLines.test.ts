// @vitest-environment jsdom
import { expect, test } from "vitest";
import type { Wetting } from "../wettings/queries";

const at = (id: number, began_by: string) => ({ id, began_by }) as Wetting;
const events = [at(1, "2026-07-01T06:00:00Z"), at(2, "2026-07-01T10:00:00Z")];
const seconds = (instant: string) => new Date(instant).getTime() / 1000;

// uPlot asks the window for its colours as it is loaded.
window.matchMedia ??= () => ({ addEventListener: () => undefined }) as unknown as MediaQueryList;
const { nearest } = await import("./DepthLines");

test("a click chooses the event that began nearest, and none from afar", () => {
  expect(nearest(events, seconds("2026-07-01T07:30:00Z"), 7200)?.id).toBe(1);
  expect(nearest(events, seconds("2026-07-01T09:00:00Z"), 7200)?.id).toBe(2);
  expect(nearest(events, seconds("2026-07-01T13:00:01Z"), 7200)).toBeNull();
  expect(nearest([], 0, 7200)).toBeNull();
});
