import { flushPromises } from "@vue/test-utils";
import { describe, expect, it } from "vitest";
import { using } from "@/testing/inApp";
import { useAddress } from "@/use/address";

describe("what stands in the address", () => {
  it("is read as text and as a number", async () => {
    const { got } = await using(useAddress, "/?weight=barrier&sweep=12&x=1&x=2");
    expect(got.text("weight")).toBe("barrier");
    expect(got.number("sweep")).toBe(12);
    expect(got.number("weight")).toBeNaN();
    expect(got.text("x")).toBeUndefined();
    expect(got.number("none")).toBeUndefined();
    expect(got.any.value).toBe(true);
  });

  it("is changed in part; what is empty goes; the rest and the place in the page stay", async () => {
    const { got, router } = await using(useAddress, "/?weight=barrier&zone=menu#rows");
    await got.set({ weight: null, zone: "", check: "links/vague" });
    await flushPromises();
    expect(router.currentRoute.value.fullPath).toBe("/?check=links/vague#rows");
    await got.clear();
    expect(router.currentRoute.value.query).toEqual({});
    expect(got.any.value).toBe(false);
  });
});
