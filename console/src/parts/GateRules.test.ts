import { flushPromises, type VueWrapper } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, Problem } from "@/api/client";
import GateRules from "@/parts/GateRules.vue";
import { session } from "@/session";
import { answering, inApp } from "@/testing/inApp";
import { said } from "@/use/announcements";

const get = vi.spyOn(api, "GET");
const post = vi.spyOn(api, "POST");
const patch = vi.spyOn(api, "PATCH");
const FIELDS = [
  { name: "holds", title: "Holds from", kind: "choice", choices: ["barrier", "none"], value: null },
  { name: "counts", title: "What counts", kind: "choice", choices: ["change"], value: "change" },
  { name: "valid-minutes", title: "Good for", kind: "number", choices: [], value: 60 },
].map((one) => ({ ...one, says: "So it is." }));
const body = (call: number, of = patch) =>
  (of.mock.calls[call]![1] as unknown as { body: Record<string, unknown> }).body;

beforeEach(() => {
  said.splice(0);
  for (const one of [get, post, patch]) one.mockReset();
  session.me = { id: 1, role: "manager" } as never;
});

async function rules(policy: object): Promise<VueWrapper> {
  get.mockImplementation(
    answering({
      "/api/v1/sites/{slug}": { slug: "trust", tag: '"4"', policy, under_way: [] },
      "/api/v1/policy/fields": { items: FIELDS },
    }),
  );
  return (await inApp(GateRules, { site: "trust" })).wrapper;
}
const press = async (wrapper: VueWrapper, label: string) => {
  await wrapper
    .findAll("button")
    .find((one) => one.text().includes(label))!
    .trigger("click");
  await flushPromises();
};

describe("the rules of the gate", () => {
  it("are shown by the fields that the service explains", async () => {
    const wrapper = await rules({ gate: { "valid-minutes": 90 } });
    expect(wrapper.findAll(".policy-field strong").map((one) => one.text())).toEqual([
      "Holds from",
      "What counts",
      "Good for",
    ]);
    expect((wrapper.find("input[type=number]").element as HTMLInputElement).value).toBe("90");
  });

  it("are saved over the rest of the policy, against the tag that was seen", async () => {
    patch.mockImplementation((() =>
      Promise.resolve({ data: { tag: '"5"', policy: {}, under_way: [] } })) as never);
    const wrapper = await rules({ hold: "barrier", gate: { "valid-minutes": 90 } });
    await wrapper.find("input[type=number]").setValue("30");
    await wrapper.find("form").trigger("submit");
    await flushPromises();
    expect(body(0)).toEqual({ policy: { hold: "barrier", gate: { "valid-minutes": 30 } } });
    const { params } = patch.mock.calls[0]![1] as unknown as {
      params: { header: Record<string, string> };
    };
    expect(params.header["if-match"]).toBe('"4"');
    expect(said.at(-1)?.says).toContain("The rules of the gate are saved");
  });

  it("are not sent where a field was emptied", async () => {
    patch.mockImplementation((() =>
      Promise.resolve({ data: { tag: '"5"', policy: {}, under_way: [] } })) as never);
    const wrapper = await rules({ gate: { "valid-minutes": 90 } });
    await wrapper.find("input[type=number]").setValue("");
    await wrapper.find("form").trigger("submit");
    await flushPromises();
    expect(body(0)).toEqual({ policy: { gate: {} } });
  });

  it("are tried on what was asked before they are saved", async () => {
    const clearance = (id: number, path: string) => ({ id, path });
    post.mockImplementation((() =>
      Promise.resolve({
        data: {
          days: 30,
          publications: 41,
          held_before: 2,
          held_after: 6,
          newly_held: [clearance(5, "/visit/")],
          newly_clear: [clearance(8, "/news/")],
        },
      })) as never);
    const wrapper = await rules({});
    await press(wrapper, "Try them");
    expect(wrapper.find("[role=status]").text()).toBe(
      "With these rules, of the last 30 days' 41 publications 6 would have been held (2 were).",
    );
    expect(wrapper.findAll("ul a").map((one) => one.attributes("aria-label"))).toEqual([
      "/visit/, would be held, clearance 5",
      "/news/, would be clear, clearance 8",
    ]);
    expect(patch).not.toHaveBeenCalled();
  });

  it("say what the service does not take", async () => {
    const refused = new Problem(422, "not-valid", "gate.valid-minutes: has to be 1 or more, not 0");
    post.mockImplementation((() => Promise.reject(refused)) as never);
    const wrapper = await rules({});
    await press(wrapper, "Try them");
    expect(wrapper.find("[role=alert]").text()).toContain("has to be 1 or more, not 0");
  });

  it("have sections of their own, which go when none is left", async () => {
    patch.mockImplementation((() =>
      Promise.resolve({ data: { tag: '"5"', policy: {}, under_way: [] } })) as never);
    const wrapper = await rules({ gate: { sections: [{ pattern: "/news/*", holds: "none" }] } });
    await press(wrapper, "Add a section");
    await wrapper.findAll("[role=group] input")[1]!.setValue("/visit/*");
    await wrapper.find("form").trigger("submit");
    await flushPromises();
    expect(body(0)).toEqual({
      policy: {
        gate: { sections: [{ pattern: "/news/*", holds: "none" }, { pattern: "/visit/*" }] },
      },
    });
    await press(wrapper, "Remove section 2");
    await press(wrapper, "Remove section 1");
    expect(wrapper.text()).toContain("The same rules hold everywhere.");
    await wrapper.find("form").trigger("submit");
    await flushPromises();
    expect(body(1)).toEqual({ policy: { gate: {} } });
  });

  it("are only looked at by whoever is no manager", async () => {
    session.me = { id: 2, role: "editor" } as never;
    const wrapper = await rules({});
    expect(wrapper.findAll("button").map((one) => one.text())).toEqual(["Add a section"]);
  });
});
