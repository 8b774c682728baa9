import { describe, expect, it } from "vitest";
import { clamped, fromPoint, toPoint, TRIANGLE } from "./triangleScale";

describe("the triangle's scale", () => {
  it("goes both ways for every whole texture", () => {
    for (let sand = 0; sand <= 100; sand += 7) {
      for (let clay = 0; clay <= 100 - sand; clay += 7) {
        const { x, y } = toPoint(sand, clay);
        expect(fromPoint(x, y)).toEqual({ sand, clay });
      }
    }
  });

  it("has pure sand at the left foot, pure silt at the right, pure clay at the top", () => {
    expect(toPoint(100, 0)).toEqual({ x: TRIANGLE.left, y: TRIANGLE.bottom });
    expect(toPoint(0, 0)).toEqual({ x: TRIANGLE.right, y: TRIANGLE.bottom });
    expect(toPoint(0, 100).y).toBe(TRIANGLE.top);
  });

  it("keeps a slip of the hand inside", () => {
    expect(fromPoint(-50, 400)).toEqual({ sand: 100, clay: 0 });
    expect(clamped(90, 40)).toEqual({ sand: 60, clay: 40 });
    expect(clamped(-3, -4)).toEqual({ sand: 0, clay: 0 });
  });
});
