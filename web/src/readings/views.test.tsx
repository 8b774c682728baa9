import { expect, test } from "vitest";
import { shown, text, type Known } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { FeelCheck } from "./FeelCheck";
import { FeelDrawing } from "./FeelDrawing";
import { HandReadings } from "./HandReadings";
import { localInput } from "../time/localInput";
import type { Instrument } from "./queries";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const AUGER: Instrument = {
  id: 5,
  label: "Auger",
  kind: "feel_check",
  quantity: "available",
  units: ["% available"],
  channels: [{ id: 11, quantity: "available", depth_mm: 150, suspect: false }],
};
const step = (low: number, high: number, hand: string) => ({
  low,
  high,
  available: (low + high) / 2,
  hand,
  drawing: "loose",
});
const FEEL = {
  cautions: ["Have buried cables located."],
  groups: [
    {
      group: "medium",
      name: "Medium",
      steps: [step(0, 0.25, "Dry."), step(0.25, 0.5, "Moist."), step(1, 1, "Wet.")],
    },
    { group: "fine", name: "Fine", steps: [step(0, 0.25, "Hard.")] },
  ],
  layers: [
    {
      channel_id: 11,
      depth_mm: 150,
      top_mm: 0,
      bottom_mm: 300,
      group: "medium",
      available_mm: 42.4,
      deficits_mm: [37.1, 26.5, 0],
    },
  ],
};

test("a feel check by layers, in the person's units", () => {
  const known: Known = [[["farm", "f", "feel", 5], FEEL]];
  const view = <FeelCheck instrument={AUGER} time={time} />;
  const said = text(view, "metric", true, known);
  expect(said).toContain("Have buried cables located.");
  expect(said).toContain("0 to 30 cm");
  expect(said).toContain("Holds 42.4 mm when full");
  expect(said).toContain("25 to 50 % left Moist.");
  expect(said).toContain("full Wet.");
  expect(said).toContain("a layer left out is not saved");
  expect(text(view, "us", true, known)).toContain("0.0 to 11.8 in");
  expect(text(view, "us", true, known)).toContain("Holds 1.67 in when full");
  const markup = shown(view, "metric", true, known);
  expect(markup.match(/role="radio"/g)?.length).toBe(3);
  expect(markup).toContain('aria-label="How 0 to 30 cm feels"');
});

test.each([
  "loose",
  "crumbling",
  "weak_ball",
  "ball_stain",
  "ribbon_short",
  "ribbon",
  "ball_wet",
] as const)("the drawing of %s has soil in the hand", (drawing) => {
  const markup = shown(<FeelDrawing drawing={drawing} />);
  expect(markup.match(/<(path|circle)/g)?.length).toBeGreaterThan(1);
});

test("the moment of a visit is the farm's", () => {
  expect(localInput(time)).toBe("2026-07-14T06:10");
});

test("readings by hand stand beside the last ones", () => {
  const gauge: Instrument = {
    ...AUGER,
    id: 6,
    label: "T1",
    kind: "tensiometer",
    quantity: "tension",
    units: ["kPa", "cbar"],
  };
  const known: Known = [
    [
      ["farm", "f", "last", 6],
      [{ channel_id: 11, time: "2026-07-13T05:00:00Z", value: 41, unit: "cbar" }],
    ],
  ];
  const said = text(<HandReadings instrument={gauge} time={time} />, "metric", true, known);
  expect(said).toContain("15 cm 41 cbar, Mon 13 July 07:00");
  // Nothing typed yet, nothing to store.
  const markup = shown(<HandReadings instrument={gauge} time={time} />, "metric", true, known);
  expect(markup).toMatch(/<button[^>]*disabled[^>]*>Save readings/);
});
