import { describe, expect, it } from "vitest";
import type { PolicyField as Field } from "@/api/client";
import PolicyField from "@/parts/PolicyField.vue";
import { inApp } from "@/testing/inApp";

async function field(change: Partial<Field>, modelValue?: unknown) {
  const given: unknown[] = [];
  const { wrapper } = await inApp(PolicyField, {
    field: { name: "x", title: "X", says: "What it does.", choices: [], value: null, ...change },
    modelValue,
    "onUpdate:modelValue": (now: unknown) => {
      given.push(now);
      void wrapper.setProps({ modelValue: now } as never);
    },
  });
  return { wrapper, given };
}

describe("a field of a policy", () => {
  it("says its default, and is that when it is emptied", async () => {
    const { wrapper, given } = await field({ kind: "number", value: 14 }, 21);
    expect(wrapper.text()).toContain("What it does. Default: 14.");
    await wrapper.find("input").setValue("30");
    await wrapper.find("input").setValue("");
    expect(given).toEqual([30, undefined]);
  });

  it("says no default where there is none: its explanation tells what applies", async () => {
    const { wrapper } = await field({ kind: "choice", choices: ["barrier", "none"] });
    expect(wrapper.text()).not.toContain("Default:");
    const { wrapper: text } = await field({ kind: "text", value: "" });
    expect(text.text()).not.toContain("Default:");
  });

  it("takes texts one in a line, without empty ones", async () => {
    const { wrapper, given } = await field({ kind: "texts", value: [] }, ["links"]);
    const area = wrapper.find("textarea");
    expect((area.element as HTMLTextAreaElement).value).toBe("links");
    expect(wrapper.text()).not.toContain("Default:");
    await area.setValue(" links/vague \n\n pictures");
    await area.trigger("change");
    expect(given.at(-1)).toEqual(["links/vague", "pictures"]);
    await area.setValue("\n");
    await area.trigger("change");
    expect(given.at(-1)).toBeUndefined();
  });

  it("takes a day as browsers write it", async () => {
    const { wrapper, given } = await field({ kind: "day" }, "2027-01-31");
    expect(wrapper.find("input").attributes("type")).toBe("date");
    await wrapper.find("input").setValue("2027-02-01");
    await wrapper.find("input").setValue("");
    expect(given).toEqual(["2027-02-01", undefined]);
  });

  it("begins from the default roles when one is turned on or off", async () => {
    const roles = { kind: "choices", choices: ["manager", "editor"], value: ["manager"] } as const;
    const { wrapper, given } = await field({ ...roles, choices: [...roles.choices] });
    const boxes = wrapper.findAll<HTMLInputElement>("input[type=checkbox]");
    expect(boxes.map((box) => box.element.checked)).toEqual([true, false]);
    await boxes[1]!.setValue(true);
    expect(given.at(-1)).toEqual(["manager", "editor"]);
    await boxes[0]!.setValue(false);
    expect(given.at(-1)).toEqual(["editor"]);
  });

  it("keeps lists of words by name, and drops those that are emptied", async () => {
    const { wrapper, given } = await field(
      { kind: "words", choices: ["vague-links", "own-words"], value: {} },
      { "own-words": ["weir"] },
    );
    const [vague, own] = wrapper.findAll("textarea");
    await vague!.setValue("on we go");
    await vague!.trigger("change");
    expect(given.at(-1)).toEqual({ "own-words": ["weir"], "vague-links": ["on we go"] });
    await own!.setValue("");
    await own!.trigger("change");
    expect(given.at(-1)).toEqual({ "vague-links": ["on we go"] });
    await vague!.setValue(" ");
    await vague!.trigger("change");
    expect(given.at(-1)).toBeUndefined();
  });
});
