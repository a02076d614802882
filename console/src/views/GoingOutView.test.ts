import { flushPromises } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, Problem } from "@/api/client";
import { session } from "@/session";
import { answering, inApp } from "@/testing/inApp";
import GoingOutView from "@/views/GoingOutView.vue";

const get = vi.spyOn(api, "GET");
const put = vi.spyOn(api, "PUT");
const ITEM = {
  number: "7",
  environment: "live",
  kind: "Post",
  status: "future",
  path: "/fair/",
  title: "The fair",
  author: "Suki Ardenne",
  edit: "https://cms.example/edit/7",
  changed_at: "2026-11-01T08:00:00Z",
  due_at: "2026-12-01T09:00:00Z",
  person_id: null,
  person: null,
  clearance_id: 3,
  clearance_state: "answered",
  decision: "held",
  reason: "2 findings hold the page.",
  problem_code: null,
  answered_at: "2026-11-01T08:01:00Z",
  holding: 2,
};
const AUTHOR = {
  email: "suki@cms.example",
  author: "Suki Ardenne",
  items: 4,
  person_id: null,
  person: null,
  by_hand: false,
};
const ANSWERS = {
  "/api/v1/sites/{slug}/going-out": {
    items: [
      ITEM,
      {
        ...ITEM,
        number: "8",
        clearance_id: null,
        clearance_state: null,
        decision: null,
        reason: null,
        status: "draft",
        due_at: null,
        title: "A draft",
      },
    ],
  },
  "/api/v1/sites/{slug}/authors": { items: [AUTHOR] },
  "/api/v1/people": { items: [{ id: 5, name: "Ned Osier", active: true, role: "editor" }] },
};

async function shown(role: "manager" | "editor" | "reader") {
  session.me = { id: 1, email: "a@b.example", name: "A", role } as typeof session.me;
  const { wrapper } = await inApp(GoingOutView, { site: "trust" });
  await flushPromises();
  return wrapper;
}

beforeEach(() => {
  get.mockImplementation(answering(ANSWERS));
});

describe("what is going out", () => {
  it("says of each item how far it is, what the gate said, and where it is edited", async () => {
    const wrapper = await shown("manager");
    const rows = wrapper.findAll("[data-row]");
    expect(rows[0]!.text()).toContain("held");
    expect(rows[0]!.text()).toContain("Post, scheduled, due 1 Dec 2026");
    expect(rows[0]!.text()).toContain("2 findings hold the page.");
    expect(rows[0]!.find("a[target=_blank]").attributes("href")).toBe(ITEM.edit);
    expect(rows[1]!.text()).toContain("not read yet");
    expect(wrapper.find("[role=status]").text()).toBe("2 items not public yet, 1 held");
    wrapper.unmount();
  });

  it("lets managers say who an author is, and nobody else", async () => {
    const wrapper = await shown("manager");
    put.mockImplementation(answering({ "/api/v1/sites/{slug}/authors": {} }) as never);
    await wrapper.find("select[aria-label='Who Suki Ardenne is here']").setValue("5");
    await flushPromises();
    const [, asked] = put.mock.calls.at(-1) as unknown as [string, { body: unknown }];
    expect(asked.body).toEqual({ email: "suki@cms.example", person_id: 5 });
    wrapper.unmount();
    const editors = await shown("editor");
    expect(editors.find("select").exists()).toBe(false);
    expect(editors.find("input[type=checkbox]").exists()).toBe(false);
    editors.unmount();
  });

  it("says what to do where no content system is connected", async () => {
    get.mockImplementation((() =>
      Promise.reject(new Problem(409, "no-items", "The site has no connection."))) as never);
    const wrapper = await shown("manager");
    expect(wrapper.text().replace(/\s+/g, " ")).toContain(
      "no content system is connected that knows drafts",
    );
    expect(wrapper.text()).toContain("Corrections");
    expect(wrapper.find("button").exists()).toBe(false);
    wrapper.unmount();
  });
});
