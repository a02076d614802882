import { beforeEach, describe, expect, it, vi } from "vitest";
import { api } from "@/api/client";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import { inApp } from "@/testing/inApp";

const get = vi.spyOn(api, "GET");
beforeEach(() => get.mockReset());

async function offered(site: { staging_address: string | null; figures: object[] }) {
  get.mockImplementation((() => Promise.resolve({ data: { under_way: [], ...site } })) as never);
  const { wrapper } = await inApp(EnvironmentField, { site: "trust", modelValue: "live" });
  const field = wrapper.findComponent({ name: "Select" });
  return field.exists()
    ? (field.props("options") as { value: string }[]).map((one) => one.value)
    : [];
}

describe("the choice of an environment", () => {
  it("is not there where a site has only one", async () => {
    expect(await offered({ staging_address: null, figures: [{ environment: "live" }] })).toEqual(
      [],
    );
  });

  it("offers staging where the site has it, or had it when it was read", async () => {
    expect(await offered({ staging_address: "https://x.example/", figures: [] })).toEqual([
      "live",
      "staging",
    ]);
    expect(await offered({ staging_address: null, figures: [{ environment: "staging" }] })).toEqual(
      ["live", "staging"],
    );
  });
});
