import { flushPromises } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Site } from "@/api/client";
import LeaveOutPages from "@/parts/LeaveOutPages.vue";
import { inApp } from "@/testing/inApp";
import { said, undoLast } from "@/use/announcements";

const site = (policy: object) => ({ slug: "trust", tag: '"4"', policy }) as unknown as Site;
const get = vi.spyOn(api, "GET");
const patch = vi.spyOn(api, "PATCH");
const sent = () =>
  (patch.mock.calls as unknown as [string, { body: { policy: object } }][]).map(
    ([, asked]) => asked.body.policy,
  );

beforeEach(() => {
  said.splice(0);
  get.mockReset();
  patch.mockReset();
  patch.mockImplementation((() => Promise.resolve({ data: {} })) as never);
});

async function press(policy: object, below: string) {
  get.mockImplementation((() => Promise.resolve({ data: site(policy) })) as never);
  const { wrapper } = await inApp(LeaveOutPages, { site: site(policy), below });
  const button = wrapper.find("button");
  await button.trigger("click");
  await flushPromises();
  return button.text();
}

describe("leaving pages out from the list", () => {
  it("adds their pattern to the policy, and has its way back", async () => {
    const label = await press({ hold: "barrier", "leave-out-pages": ["/x/*"] }, "/author/");
    expect(label).toBe("Leave the pages below /author/ out of what is counted");
    expect(sent()).toEqual([{ hold: "barrier", "leave-out-pages": ["/x/*", "/author/*"] }]);
    expect(said.at(-1)?.says).toBe("What is below /author/ is not counted any more.");
    await undoLast();
    expect(sent()[1]).toEqual({ hold: "barrier", "leave-out-pages": ["/x/*"] });
  });

  it("counts them again where they were left out, however the policy writes it", async () => {
    const label = await press({ leave_out_pages: ["/author/*", "/x/*"] }, "/author/");
    expect(label).toBe("Count the pages below /author/ again");
    expect(sent()).toEqual([{ "leave-out-pages": ["/x/*"] }]);
  });

  it("sends the tag of the site as it is now", async () => {
    await press({}, "/feeds/");
    const { params } = patch.mock.calls[0]![1] as unknown as {
      params: { header: Record<string, string> };
    };
    expect(params.header["if-match"]).toBe('"4"');
  });
});
