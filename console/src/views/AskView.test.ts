import { flushPromises } from "@vue/test-utils";
import { describe, expect, it, vi } from "vitest";
import { api } from "@/api/client";
import ChoiceField from "@/parts/ChoiceField.vue";
import { answering, inApp } from "@/testing/inApp";
import AskView from "@/views/AskView.vue";

const get = vi.spyOn(api, "GET");

/** What may be chosen to ask about, and what is chosen, of a site with such a staging address. */
async function asking(staging: string | null) {
  get.mockImplementation(
    answering({ "/api/v1/sites/{slug}": { staging_address: staging, under_way: [] } }),
  );
  const { wrapper } = await inApp(AskView, { site: "trust" });
  await flushPromises();
  const { options, modelValue } = wrapper.findComponent(ChoiceField).props() as unknown as {
    options: { value: string }[];
    modelValue: string;
  };
  wrapper.unmount();
  return { offered: options.map((one) => one.value), chosen: modelValue };
}

describe("asking the gate", () => {
  it("begins with the page as it stands in staging", async () => {
    const { offered, chosen } = await asking("https://staging.example/");
    expect(chosen).toBe("staging");
    expect(offered).toContain("release");
  });

  it("offers no staging where the site has none", async () => {
    const { offered, chosen } = await asking(null);
    expect(offered).toEqual(["document", "fragment", "address"]);
    expect(chosen).toBe("document");
  });
});
