import { flushPromises, type VueWrapper } from "@vue/test-utils";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Component } from "vue";
import { api, type Correction, type FindingInFull } from "@/api/client";
import DraftStrip from "@/mends/DraftStrip.vue";
import MendBench from "@/mends/MendBench.vue";
import { session } from "@/session";
import { answering, inApp } from "@/testing/inApp";
import { made } from "@/use/corrections";

const get = vi.spyOn(api, "GET");
const post = vi.spyOn(api, "POST");

const finding = {
  id: 7,
  site: "trust",
  environment: "staging",
  sweep_id: 3,
  reading_id: 9,
  check: "page/no-language",
  selector: "html",
  excerpt: "<html>",
  place_key: "abc",
  facts: {},
  mends: [{ kind: "set-attribute", attribute: "lang", value: "en", says: "Say lang=en." }],
  same_cause_places: 3,
  same_cause_pages: 3,
} as unknown as FindingInFull;
const correction = (change: object) =>
  ({
    id: 5,
    site: "trust",
    path: "/",
    says: "Language set.",
    state: "drafted",
    ...change,
  }) as unknown as Correction;

const TRY = "/api/v1/findings/{finding_id}/try";
const tried = {
  role: "document",
  name: "",
  exposed: true,
  trace: [],
  heard: [],
  markup: '<html lang="en">',
  left: [],
  gone: ["The page names no language."],
  brought: [],
};

/** Let what is sent be answered so, but for tries. */
function answers(data: object) {
  post.mockImplementation(((path: string) =>
    Promise.resolve({ data: path === TRY ? tried : data })) as never);
}
const drafting = (first: Correction, ids = [5]) => answers({ first, ids });
const calls = () =>
  post.mock.calls as unknown as [path: string, asked: { body: Record<string, unknown> }][];
const sent = () => calls().findLast(([path]) => path !== TRY)![1].body;

let mounted: VueWrapper[] = [];
afterEach(() => {
  mounted.forEach((one) => one.unmount());
  mounted = [];
});

async function shown(component: Component, props: Record<string, unknown>) {
  const { wrapper } = await inApp(component, props);
  mounted.push(wrapper);
  return wrapper;
}

async function begun() {
  const wrapper = await shown(MendBench, { finding });
  await wrapper.find("input[type=radio]").setValue(true);
  const apply = wrapper.findAll("button").find((one) => one.text() === "Apply")!;
  return { wrapper, apply };
}

beforeEach(() => {
  get.mockReset();
  post.mockReset();
  get.mockImplementation(
    answering({
      "/api/v1/findings/{finding_id}/alike": {
        items: [
          { id: 7, path: "/" },
          { id: 8, path: "/a/" },
          { id: 9, path: "/b/" },
        ],
      },
    }),
  );
  made.done = [];
  made.undone = [];
  localStorage.clear();
  session.me = { id: 1, role: "editor" } as never;
});

describe("the bench", () => {
  it("drafts what was chosen, keeps it for undo, and lets the next follow", async () => {
    drafting(correction({}));
    const { wrapper, apply } = await begun();
    await apply.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({
      finding: 7,
      mend: { kind: "set-attribute", attribute: "lang", value: "en" },
      everywhere: false,
    });
    expect(wrapper.emitted("drafted")).toHaveLength(1);
    expect(made.done.map((one) => one.id)).toEqual([5]);
  });

  it("shows what a mend would write, and what would go by it, before it is drafted", async () => {
    drafting(correction({}));
    const { wrapper } = await begun();
    await new Promise((resolve) => setTimeout(resolve, 10));
    await flushPromises();
    expect(wrapper.find("[aria-label='The mend as markup']").text()).toBe('<html lang="en">');
    expect(wrapper.text()).toContain("✓ gone: The page names no language.");
    expect(calls().every(([path]) => path === TRY)).toBe(true);
  });

  it("says why a mend is refused, and drafts it all the same for who insists", async () => {
    drafting(correction({ state: "refused", problem: "it would bring", may_insist: true }));
    const { wrapper, apply } = await begun();
    await apply.trigger("click");
    await flushPromises();
    expect(wrapper.find("[role=alert]").text()).toContain("it would bring");
    expect(wrapper.emitted("drafted")).toBeUndefined();
    answers(correction({}));
    await wrapper
      .findAll("button")
      .find((one) => one.text() === "Draft it all the same")!
      .trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ move: "draft_again", insist: true });
    expect(wrapper.emitted("drafted")).toHaveLength(1);
  });

  it("drafts the same for all places but those that are left out", async () => {
    drafting(correction({}), [5, 6]);
    const { wrapper, apply } = await begun();
    await wrapper.find("input[type=checkbox]").setValue(true);
    await flushPromises();
    await wrapper
      .findAll("button")
      .find((one) => one.text() === "Leave some out")!
      .trigger("click");
    await wrapper.find(".places input").setValue(false);
    expect(wrapper.text()).toContain("2 corrections will be drafted");
    await apply.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ everywhere: true, but: [8] });
  });

  it("is no bench for readers", async () => {
    session.me = { id: 1, role: "reader" } as never;
    const wrapper = await shown(MendBench, { finding });
    expect(wrapper.text()).not.toContain("Apply");
  });
});

describe("undo and redo", () => {
  it("go back and forth step by step", async () => {
    made.done = [correction({ id: 4, says: "First." }), correction({ id: 5, says: "Second." })];
    post.mockImplementation(((_: string, asked: { body: { move: string } }) =>
      Promise.resolve({
        data:
          asked.body.move === "take_back"
            ? correction({ state: "taken_back" })
            : correction({ says: "Second." }),
      })) as never);
    const wrapper = await shown(DraftStrip, { site: "trust" });
    expect(wrapper.text()).toContain("Second.");
    const [undo, redo] = wrapper.findAll("button");
    await undo!.trigger("click");
    await flushPromises();
    expect(wrapper.text()).toContain("First.");
    expect(made.undone.map((one) => one.id)).toEqual([5]);
    await redo!.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ move: "draft_again" });
    expect(wrapper.text()).toContain("Second.");
    expect(made.undone).toEqual([]);
  });
});
