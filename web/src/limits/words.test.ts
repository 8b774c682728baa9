import { describe, expect, it } from "vitest";
import { valueIn, valueSaid } from "./words";

describe("what a method starts from", () => {
  it("takes percent for shares and kPa for tensions", () => {
    expect(valueIn("flat", "45")).toBe(0.45);
    expect(valueIn("crop_p", "32,5")).toBe(0.325);
    expect(valueIn("tension", "45")).toBe(45);
  });

  it("takes nothing for the crop's own", () => {
    expect(valueIn("tension", " ")).toBeNull();
    expect(valueIn("flat", "half")).toBeNull();
    expect(valueSaid("tension", null)).toBe("the crop's own");
  });

  it("says it in the same unit", () => {
    expect(valueSaid("flat", 0.45)).toBe("45 %");
    expect(valueSaid("crop_p", 0.325)).toBe("32.5 %");
    expect(valueSaid("tension", 45)).toBe("45 kPa");
  });
});
