import { describe, expect, it } from "vitest";
import { placeFigures } from "./placeFigures";

const at = (...xs: number[]) => xs.map((x) => ({ x, text: "16" }));

describe("figures beside their marks", () => {
  it("stand to the right where there is room", () => {
    expect(placeFigures(at(10, 60, 120), 300)).toEqual(["right", "right", "right"]);
  });
  it("turn left before now, and stand right after it", () => {
    expect(placeFigures(at(290, 305), 300)).toEqual(["left", "right"]);
  });
  it("turn left where the next mark is near, if the left is free", () => {
    expect(placeFigures(at(100, 115), 300)).toEqual(["left", "right"]);
  });
  it("are left out where there is no room", () => {
    expect(placeFigures(at(100, 112, 124, 136), 300)).toEqual(["left", "none", "none", "right"]);
    expect(placeFigures(at(5, 20), 22)).toEqual(["none", "none"]);
  });
  it("take longer words further", () => {
    expect(placeFigures([{ x: 270, text: "16" }], 300)).toEqual(["right"]);
    expect(placeFigures([{ x: 270, text: "2.10" }], 300)).toEqual(["left"]);
  });
});
