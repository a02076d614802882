import { describe, expect, it } from "vitest";
import MeasuredFacts from "@/parts/MeasuredFacts.vue";
import { inApp } from "@/testing/inApp";

describe("what was measured at a place", () => {
  it("tells apart what the page's author wrote beside it", async () => {
    const facts = { required: 4.5, left_here: "the map has no text yet", proposals: [] };
    const { wrapper } = await inApp(MeasuredFacts, { facts });
    expect(wrapper.text()).toContain("A comment in the page says: “the map has no text yet”.");
    expect(wrapper.findAll("dt").map((one) => one.text())).toEqual(["required"]);
  });

  it("says nothing where nothing was measured", async () => {
    const { wrapper } = await inApp(MeasuredFacts, { facts: { proposals: [], text: "" } });
    expect(wrapper.text()).toBe("");
  });
});
