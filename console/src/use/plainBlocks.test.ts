import { describe, expect, it } from "vitest";
import { plainBlocks } from "./plainBlocks";

describe("a page without its style sheet", () => {
  it("has headings, pictures in their places, and words", () => {
    const order = [
      { text: "Locks", selector: "h1" },
      { text: "A lock", selector: "p > img" },
      { text: "Nine of them.", selector: "main > p" },
      { text: "A gate With words", selector: "main > div" },
    ];
    const outline = [
      { kind: "heading", level: 1, selector: "h1" },
      { kind: "main", level: null, selector: "main" },
    ];
    const pictures = [
      { name: "A lock", selector: "p > img", box: [0, 0, 9, 9], decorative: false },
      { name: "A gate", selector: "main > div > img", box: [0, 9, 9, 9], decorative: false },
      { name: "", selector: "main > p > img", box: [0, 9, 9, 9], decorative: true },
    ];
    expect(plainBlocks(order, outline, pictures)).toEqual([
      { text: "Locks", level: 1 },
      { text: "A lock", box: [0, 0, 9, 9] },
      { text: "Nine of them." },
      { text: "A gate", box: [0, 9, 9, 9] },
      { text: "A gate With words" },
    ]);
  });
  it("is nothing where nothing is stored", () => {
    expect(plainBlocks([], [], [])).toEqual([]);
  });
});
