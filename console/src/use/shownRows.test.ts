import { describe, expect, it } from "vitest";
import { detailOf, nameOf } from "./shownRows";

describe("rows of evidence in words", () => {
  it.each([
    [{ name: "A lock", hash: "ab", selector: "img" }, "A lock", ""],
    [{ name: " ", address: "/fees/" }, "/fees/", ""],
    [{ name: "Hours", level: 2 }, "Hours", "level 2"],
    [{ name: "E-mail", required: true, autocomplete: "" }, "E-mail", "required"],
    [
      { kind: "video", source: "/a.mp4", tracks: [{ kind: "captions", label: "English" }] },
      "video",
      "source: /a.mp4 · tracks: captions English",
    ],
    [{ address: "/", called: ["Home", "Start"] }, "/", "called: Home, Start"],
    [{}, "no name", ""],
  ])("%j", (row, name, detail) => {
    expect(nameOf(row)).toBe(name);
    expect(detailOf(row)).toBe(detail);
  });
});
