import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Figures } from "@/api/client";
import NextStep from "@/parts/NextStep.vue";
import { inApp } from "@/testing/inApp";

const figures = (change: Partial<Figures>) =>
  ({ environment: "live", sweep_id: 5, pages: 30, ready: 30, doubtful: 0, ...change }) as Figures;
const get = vi.spyOn(api, "GET");

beforeEach(() => get.mockReset());

async function step(causes: number, change: Partial<Figures>) {
  get.mockImplementation((() => Promise.resolve({ data: { items: [], total: causes } })) as never);
  const { wrapper } = await inApp(NextStep, { site: "trust", figures: figures(change) });
  const link = wrapper.find("a");
  return [wrapper.text(), link.attributes("href")];
}

describe("what is to be done next", () => {
  it("is handing out what holds pages", async () => {
    const [text, to] = await step(4, { ready: 21 });
    expect(text).toBe(
      "Next: 4 causes that nobody has to mend yet hold pages (9 pages are not ready): hand them out",
    );
    expect(to).toBe("/sites/trust/causes?environment=live&holds=yes&handed=no");
    const [, asked] = get.mock.calls[0]! as unknown as [
      string,
      { params: { query: Record<string, unknown> } },
    ];
    expect(asked.params.query).toEqual({ limit: 1, holding: true, handed_out: false, sweep: 5 });
  });

  it("says so of one", async () => {
    const [text] = await step(1, { ready: 29 });
    expect(text).toBe(
      "Next: 1 cause that nobody has to mend yet holds pages (1 page is not ready): hand it out",
    );
  });

  it("is then looking at what no program can decide", async () => {
    const [text, to] = await step(0, { ready: 21, doubtful: 3 });
    expect(text).toContain("3 findings wait for a person’s eye: look at them");
    expect(to).toBe("/sites/trust/findings?sweep=5&outcome=cantTell");
  });

  it("is then following the fixes, and at last the gate", async () => {
    expect((await step(0, { ready: 21 }))[1]).toBe("/sites/trust/fixes?environment=live");
    expect(await step(0, {})).toEqual([
      "Next: All pages are ready: ask the gate",
      "/sites/trust/gate",
    ]);
  });
});
