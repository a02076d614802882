import { flushPromises, type VueWrapper } from "@vue/test-utils";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Component } from "vue";
import { api, type Correction } from "@/api/client";
import BeforeAfter from "@/parts/BeforeAfter.vue";
import CauseCorrections from "@/parts/CauseCorrections.vue";
import CorrectionLine from "@/parts/CorrectionLine.vue";
import PageDrafts from "@/parts/PageDrafts.vue";
import SourceConnections from "@/parts/SourceConnections.vue";
import { session } from "@/session";
import { answering, inApp, reads } from "@/testing/inApp";
import { made } from "@/use/corrections";

const LIST = "/api/v1/sites/{slug}/corrections";
const get = vi.spyOn(api, "GET");
const post = vi.spyOn(api, "POST");
const put = vi.spyOn(api, "PUT");

const correction = (change: object = {}) =>
  ({
    id: 5,
    site: "trust",
    environment: "staging",
    path: "/a/",
    fault: "The picture has no text.",
    says: "Text set to “A lock”.",
    state: "drafted",
    problem: "",
    may_insist: false,
    may_reference: false,
    by_id: 1,
    made_by: "Ned Osier",
    made_at: "2026-11-29T10:00:00Z",
    by_program: false,
    changed_by_person: false,
    picture_before: "b",
    picture_after: "a",
    box_before: [100, 200, 50, 40],
    box_after: [100, 220, 50, 40],
    ...change,
  }) as unknown as Correction;

let mounted: VueWrapper[] = [];
async function shown(component: Component, props: object, answers: object = {}) {
  get.mockImplementation(answering(answers as never));
  const { wrapper } = await inApp(component, props as Record<string, unknown>);
  await flushPromises();
  mounted.push(wrapper);
  return wrapper;
}
const button = (wrapper: VueWrapper, label: string) =>
  wrapper.findAll("button").find((one) => one.text() === label);
const sent = () =>
  (post.mock.calls.at(-1) as unknown as [string, { body: Record<string, unknown> }])[1].body;

beforeEach(() => {
  for (const one of [get, post, put]) one.mockReset();
  session.me = { id: 1, role: "editor" } as never;
  made.done = [];
});
afterEach(() => {
  mounted.forEach((one) => one.unmount());
  mounted = [];
});

describe("a correction in a list", () => {
  it("is a plain sentence with how far it is, and opens to what it changes", async () => {
    const full = {
      ...correction(),
      diff: "-<img>\n+<img alt=A>",
      events: [{ id: 1, at: "2026-11-29T10:00:00Z", by: "Ned Osier", after: "drafted", why: "" }],
    };
    const wrapper = await shown(
      CorrectionLine,
      { correction: correction() },
      { "/api/v1/corrections/{correction_id}": full },
    );
    expect(reads(wrapper)).toContain("drafted Text set to “A lock”.");
    expect(wrapper.find("pre").exists()).toBe(false);
    await button(wrapper, "Look")!.trigger("click");
    await flushPromises();
    expect(wrapper.find("pre").text()).toContain("+<img alt=A>");
    expect(reads(wrapper)).toContain("For: The picture has no text.");
  });

  it("is taken back by whoever made it, and by managers, and by nobody else", async () => {
    expect(
      button(await shown(CorrectionLine, { correction: correction() }), "Take back"),
    ).toBeTruthy();
    const others = correction({ by_id: 9 });
    expect(
      button(await shown(CorrectionLine, { correction: others }), "Take back"),
    ).toBeUndefined();
    session.me = { id: 1, role: "manager" } as never;
    const wrapper = await shown(CorrectionLine, { correction: others });
    post.mockImplementation((() => Promise.resolve({ data: others })) as never);
    await button(wrapper, "Take back")!.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ move: "take_back" });
  });

  it("says why it is no further, and what may be done about it", async () => {
    const wrapper = await shown(CorrectionLine, {
      correction: correction({ state: "refused", problem: "no place for Þ", may_reference: true }),
    });
    expect(wrapper.find(".problem").text()).toContain("no place for Þ");
    expect(button(wrapper, "Take back")).toBeUndefined();
    post.mockImplementation((() => Promise.resolve({ data: correction() })) as never);
    await button(wrapper, "Write references")!.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ move: "draft_again", as_references: true });
    expect(made.done.map((one) => one.id)).toEqual([5]);
  });

  it("tells a program's words from a person's", async () => {
    const own = await shown(CorrectionLine, { correction: correction() });
    expect(own.text()).not.toContain("program");
    const changed = correction({ by_program: true, changed_by_person: true });
    const wrapper = await shown(CorrectionLine, { correction: changed });
    expect(reads(wrapper)).toContain("written by a program and changed by a person");
  });
});

describe("what is changed on a page", () => {
  const page = { site: "trust", path: "/a/", environment: "staging" };

  it("is nothing at all where nothing is", async () => {
    const wrapper = await shown(PageDrafts, page, { [LIST]: { items: [], total: 0 } });
    expect(wrapper.find("section").exists()).toBe(false);
  });

  it("is written and taken back as far as it is one's own", async () => {
    const items = [correction(), correction({ id: 6, by_id: 9 }), correction({ id: 7 })];
    const wrapper = await shown(PageDrafts, page, { [LIST]: { items, total: 3 } });
    post.mockImplementation((() => Promise.resolve({ data: { ids: [5, 7] } })) as never);
    await button(wrapper, "Write 2 corrections")!.trigger("click");
    await flushPromises();
    expect(sent()).toMatchObject({ ids: [5, 7] });
    const back = post.mock.calls.length;
    await button(wrapper, "Take all back")!.trigger("click");
    await flushPromises();
    expect(post.mock.calls.length - back).toBe(2);
    const downloads = wrapper.findAll("a[href*=corrections]").map((one) => one.attributes("href"));
    expect(downloads[0]).toBe(
      "/api/v1/sites/trust/corrections/page?path=%2Fa%2F&environment=staging",
    );
  });

  it("leaves out what was refused to others", async () => {
    const items = [
      correction({ state: "refused", problem: "mine", may_insist: true }),
      correction({ id: 6, by_id: 9, state: "refused", problem: "theirs" }),
    ];
    const wrapper = await shown(PageDrafts, page, { [LIST]: { items, total: 2 } });
    expect(wrapper.findAll("li")).toHaveLength(1);
    expect(wrapper.text()).toContain("mine");
    expect(wrapper.findAll("a[href*=corrections]")).toHaveLength(0);
  });
});

describe("the corrections of a cause", () => {
  it("are the first of them, and how many more there are", async () => {
    const wrapper = await shown(
      CauseCorrections,
      { site: "trust", cause: "c", environment: "staging" },
      { [LIST]: { items: [correction(), correction({ id: 6 })], total: 66 } },
    );
    expect(reads(wrapper)).toContain("… and 64 more; all corrections");
  });
});

describe("before and after", () => {
  it("lie over each other, each moved so that the place is in the same spot", async () => {
    const wrapper = await shown(BeforeAfter, { correction: correction(), high: 100 });
    const [before, after] = wrapper.findAll("img").map((one) => one.attributes("style"));
    expect(before).toContain("-170px");
    expect(after).toContain("-190px");
    await wrapper.find("input[type=range]").setValue(40);
    expect(wrapper.find(".over").attributes("style")).toContain("40%");
    expect(wrapper.find("input[type=range]").attributes("aria-valuetext")).toBe(
      "40 % before, 60 % after",
    );
  });

  it("are not to be had of a page that was read without a browser", async () => {
    const wrapper = await shown(BeforeAfter, {
      correction: correction({ picture_before: null, picture_after: null }),
    });
    expect(wrapper.find("img").exists()).toBe(false);
    expect(wrapper.text()).toContain("read without a browser");
  });
});

describe("where the sources are", () => {
  const connections = {
    "/api/v1/sites/{slug}/connections": {
      items: [
        {
          environment: "live",
          kind: "git",
          settings: { repository: "/srv/git/site", branch: "main" },
          made_by: "Philippa Wren",
          made_at: "2026-11-29T10:00:00Z",
        },
      ],
    },
  };

  it("is said with what works of it, once it is checked", async () => {
    const wrapper = await shown(SourceConnections, { site: "trust" }, connections);
    expect(reads(wrapper)).toContain("live: git /srv/git/site main");
    const checked = { environment: "live", works: ["it answers"], problem: "the branch is gone" };
    post.mockImplementation((() => Promise.resolve({ data: checked })) as never);
    await button(wrapper, "Check")!.trigger("click");
    await flushPromises();
    expect(reads(wrapper)).toContain("✓ it answers");
    expect(reads(wrapper)).toContain("✗ the branch is gone");
  });

  it("is kept by what its kind needs", async () => {
    const wrapper = await shown(SourceConnections, { site: "trust" }, connections);
    put.mockImplementation((() => Promise.resolve({ data: { works: ["it is there"] } })) as never);
    await wrapper.find("#c-where").setValue(" /srv/www ");
    await wrapper.find("form").trigger("submit");
    await flushPromises();
    const [, asked] = put.mock.calls.at(-1) as unknown as [string, { body: object }];
    expect(asked.body).toEqual({ kind: "folder", folder: "/srv/www", secret: null });
    expect(wrapper.find("#c-secret").exists()).toBe(false);
  });
});
