import { describe, expect, it } from "vitest";
import { contrast, isColour, shownRatio } from "@/contrast";

describe("contrast by WCAG 2.2", () => {
  it.each([
    ["#000000", "#ffffff", 21],
    ["#ffffff", "#ffffff", 1],
    ["#777777", "#ffffff", 4.478],
    ["#767676", "#ffffff", 4.542],
    ["#f00", "#ffffff", 3.998],
    ["#00f", "#000", 2.444],
  ])("of %s and %s is %d", (one, other, ratio) => {
    expect(contrast(one, other)).toBeCloseTo(ratio, 2);
    expect(contrast(other, one)).toBe(contrast(one, other));
  });

  it("is never shown as more than it is", () => {
    expect(shownRatio(4.4999)).toBe("4.49");
    expect(shownRatio(4.5)).toBe("4.50");
    expect(shownRatio(21)).toBe("21.00");
  });

  it.each(["#fff", "#FFFFFF", " #a0b1c2 "])("takes %s for a colour", (text) =>
    expect(isColour(text)).toBe(true),
  );
  it.each(["fff", "#ffff", "red", "#ggg", "", "#1234567"])("does not take %s for one", (text) =>
    expect(isColour(text)).toBe(false),
  );
});
