import { expect, test } from "vitest";
import { nearestPoint, openedPoints } from "./layerPoints";
import type { LayerPoints } from "./queries";

const base64 = (bytes: number[]) => btoa(String.fromCodePoint(...bytes));

// Two points by hand: 4 steps (1 m) east of -10 and 8 steps (2 m) south of 20; 258 steps and none.
const PACKED = {
  west: -10,
  north: 20,
  step_m: 0.25,
  x: base64([4, 0, 2, 1]),
  y: base64([8, 0, 0, 0]),
  why: base64([0, 3]),
  // 8.5 and NaN as 32-bit floats.
  value: base64([0, 0, 0x08, 0x41, 0, 0, 0xc0, 0x7f]),
  number: null,
} as unknown as LayerPoints;

test("points are opened as they were packed", () => {
  const points = openedPoints(PACKED);
  expect([...points.x]).toEqual([-9, 54.5]);
  expect([...points.y]).toEqual([18, 20]);
  expect([...points.why]).toEqual([0, 3]);
  expect([...points.value]).toEqual([8.5, Number.NaN]);
  expect([...points.number]).toEqual([0, 1]);
});

test("points that are some of many keep their places", () => {
  const some = openedPoints({ ...PACKED, number: base64([7, 0, 0, 0, 0, 1, 0, 0]) });
  expect([...some.number]).toEqual([7, 256]);
});

test("the nearest point is found within reach", () => {
  const points = openedPoints(PACKED);
  expect(nearestPoint(points, { x: -8, y: 18 }, 2)).toBe(0);
  expect(nearestPoint(points, { x: 54, y: 19 }, 2)).toBe(1);
  expect(nearestPoint(points, { x: 20, y: 18 }, 2)).toBe(-1);
});
