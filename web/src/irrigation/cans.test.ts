import { describe, expect, it } from "vitest";
import { cansIn } from "./cans";

describe("cans as typed", () => {
  it("come apart at spaces, lines and semicolons, with either decimal mark", () => {
    expect(cansIn("12.4 11,0\n13;9", "metric", "water")).toEqual({
      values: [12.4, 11, 13, 9],
      wrong: null,
    });
  });

  it("forgive a comma between them", () => {
    expect(cansIn("12, 11, 13", "metric", "water").values).toEqual([12, 11, 13]);
  });

  it("name what is no number", () => {
    expect(cansIn("12 spilt 13", "metric", "water").wrong).toBe("spilt");
  });

  it("are turned into millimetres", () => {
    expect(cansIn("0.5", "us", "water").values[0]).toBeCloseTo(12.7);
    expect(cansIn("100", "us", "length").values[0]).toBeCloseTo(30.48);
  });
});
