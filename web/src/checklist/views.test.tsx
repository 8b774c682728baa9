import { describe, expect, it } from "vitest";
import { shown, text, type Known } from "../testing/shown";
import { Checklist } from "./Checklist";
import type { ChecklistStep, Step } from "./queries";

const NAMES: Step[] = [
  "position",
  "soil",
  "blocks",
  "equipment",
  "crop",
  "weather",
  "instruments",
  "readings",
  "people",
];

function steps(over: Partial<Record<Step, Partial<ChecklistStep>>>): ChecklistStep[] {
  return NAMES.map((step) => ({
    step,
    done: false,
    skipped: false,
    count: 0,
    of: null,
    ...over[step],
  }));
}

const everything = Object.fromEntries(NAMES.map((n) => [n, { done: true, count: 1 }]));
const known = (data: ChecklistStep[]): Known => [[["farm", "f", "checklist"], data]];

describe("the checklist of a new farm", () => {
  it("says of each step what it is for, what is missing without it, and opens its page", () => {
    const data = steps({ soil: { done: true, count: 2 } });
    const said = text(<Checklist />, "metric", true, known(data));
    expect(said).toContain("Set up the farm 1 of 9 steps done");
    expect(said).toContain("✓ Soil done");
    expect(said).toContain("Without one, a block gets no advice. Choose crops");
    const page = shown(<Checklist />, "metric", true, known(data));
    expect(page).toContain('href="/f/new-block"');
    expect(page).toContain('aria-label="People: not needed"');
    expect(page).not.toContain('aria-label="Blocks: not needed"');
  });

  it("counts blocks that still lack a crop, and steps that are not needed", () => {
    const data = steps({ crop: { done: true, count: 2, of: 5 }, people: { skipped: true } });
    const said = text(<Checklist />, "metric", true, known(data));
    expect(said).toContain("Crop and planting date done for 2 of 5");
    expect(said).toContain("People not needed Undo");
    expect(said).toContain("2 of 9 steps done");
  });

  it("is gone when all is done, and for who may not set up", () => {
    const done = known(steps(everything));
    expect(text(<Checklist />, "metric", true, done)).toBe("");
    const open = known(steps({}));
    expect(text(<Checklist />, "metric", false, open)).toBe("");
  });
});
