import { flushPromises, type VueWrapper } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Component } from "vue";
import { api, type FindingInFull } from "@/api/client";
import AddressMend from "@/mends/AddressMend.vue";
import ContrastMend from "@/mends/ContrastMend.vue";
import HeadingMend from "@/mends/HeadingMend.vue";
import LinkMend from "@/mends/LinkMend.vue";
import MainHeadingMend from "@/mends/MainHeadingMend.vue";
import PictureMend from "@/mends/PictureMend.vue";
import type { Proposal } from "@/mends/proposal";
import SpellingMend from "@/mends/SpellingMend.vue";
import TableMend from "@/mends/TableMend.vue";
import WordsMend from "@/mends/WordsMend.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import WordSuggestions from "@/parts/WordSuggestions.vue";
import { session } from "@/session";
import { answering, inApp, reads, type Answers } from "@/testing/inApp";

const VIEW = "/api/v1/readings/{reading_id}/views/{name}";
const get = vi.spyOn(api, "GET");
const post = vi.spyOn(api, "POST");

beforeEach(() => {
  get.mockReset();
  post.mockReset();
  session.me = null;
});

const finding = (change: object) =>
  ({
    id: 7,
    site: "trust",
    environment: "staging",
    sweep_id: 3,
    reading_id: 9,
    check: "headings/level-jump",
    selector: "#here",
    excerpt: "<a>here</a>",
    facts: {},
    mends: [],
    ...change,
  }) as unknown as FindingInFull;

/** Mount a mend; what it proposes is the last of `proposed`. */
async function bench(
  component: Component,
  shown: FindingInFull,
  answers: Answers = {},
  begun: Proposal | null = null,
) {
  get.mockImplementation(answering(answers));
  const proposed: (Proposal | null)[] = [];
  const { wrapper } = await inApp(component, {
    finding: shown,
    modelValue: begun,
    "onUpdate:modelValue": (now: Proposal | null) => {
      proposed.push(now);
      void wrapper.setProps({ modelValue: now } as never);
    },
  });
  return { wrapper, proposed };
}

const rows = (views: Record<string, object[]>) => ({
  [VIEW]: (asked: { params: { path: { name: string } } }) => ({
    name: asked.params.path.name,
    stored: true,
    rows: views[asked.params.path.name] ?? [],
  }),
});
const button = (wrapper: VueWrapper, label: string) =>
  wrapper.findAll("button").find((one) => one.text().includes(label))!;

describe("the level of a heading", () => {
  const heading = (selector: string, level: number) => ({
    kind: "heading",
    name: `Heading ${selector}`,
    selector,
    level,
  });
  const outline = rows({
    outline: [
      heading("h1", 1),
      { kind: "landmark", selector: "main" },
      heading("#here", 4),
      heading("#below", 5),
      heading("#next", 2),
    ],
  });
  const lines = (wrapper: VueWrapper) => wrapper.findAll(".outline li").map((one) => one.text());
  const choose = (wrapper: VueWrapper, value: string) =>
    wrapper.find(`input[type=radio][value="${value}"]`).setValue(true);

  it("shows the jump as it is, and proposes nothing by itself", async () => {
    const { wrapper, proposed } = await bench(HeadingMend, finding({}), outline);
    expect(reads(wrapper.find("[role=status]"))).toBe("1 jump in the outline as it would be:");
    expect(lines(wrapper)).toEqual([
      "h1 Heading h1",
      "h4 Heading #here jumps",
      "h5 Heading #below",
      "h2 Heading #next",
    ]);
    expect(proposed).toEqual([]);
  });

  it("moves those below it along, unless that is not wanted", async () => {
    const { wrapper, proposed } = await bench(HeadingMend, finding({}), outline);
    await choose(wrapper, "2");
    expect(proposed.at(-1)).toEqual({
      kind: "move-section",
      to: "2",
      says: "Make it a heading of level 2, and move the 1 below it along.",
    });
    expect(lines(wrapper).slice(1, 3)).toEqual([
      "h2 Heading #here was h4",
      "h3 Heading #below was h5",
    ]);
    expect(wrapper.find("[role=status]").text()).toContain("No jump in the outline");
    await wrapper.find("input[type=checkbox]").setValue(false);
    expect(proposed.at(-1)).toEqual({
      kind: "rename-element",
      to: "h2",
      says: "Make it a heading of level 2.",
    });
    expect(wrapper.find("[role=status]").text()).toContain("1 jump in the outline");
  });

  it("takes it out of the outline where it is no heading", async () => {
    const { wrapper, proposed } = await bench(HeadingMend, finding({}), outline);
    await choose(wrapper, "text");
    expect(proposed.at(-1)).toMatchObject({ kind: "rename-element", to: "p" });
    expect(lines(wrapper)).not.toContain("h4 Heading #here");
    await choose(wrapper, "4");
    expect(proposed.at(-1)).toBeNull();
  });

  it("says where the outline has no such heading, and where it is not kept", async () => {
    const other = await bench(HeadingMend, finding({ selector: "#gone" }), outline);
    expect(other.wrapper.text()).toBe(
      "The page has no heading in this place; the mends above say what to write.",
    );
    const answer = { name: "outline", stored: false, rows: [] };
    const old = await bench(HeadingMend, finding({}), { [VIEW]: answer });
    expect(old.wrapper.text()).toContain("read the page again to see it");
  });
});

describe("the words of a link", () => {
  const views = rows({
    order: [
      { text: "More", selector: "nav" },
      { text: "For the fees of the locks click here at any time.", selector: "main > p" },
      { text: "click here", selector: "footer" },
    ],
    links: [{ name: "click here", target: "/fees/", selector: "main > p > a" }],
  });
  const shown = finding({ check: "links/vague", selector: "main > p > a" });

  it("are shown in the sentence that holds the link, not in another with the same words", async () => {
    const { wrapper, proposed } = await bench(LinkMend, shown, views);
    expect(reads(wrapper)).toContain("It reads “click here” and leads to /fees/.");
    await wrapper.find("input").setValue("  the list of fees ");
    expect(wrapper.find("p.sentence").text()).toBe(
      "For the fees of the locks the list of fees at any time.",
    );
    expect(proposed.at(-1)).toEqual({
      kind: "replace-text",
      value: "the list of fees",
      says: "Let the link read “the list of fees”.",
    });
    await wrapper.find("input").setValue("   ");
    expect(proposed.at(-1)).toBeNull();
  });

  it("are begun with what was proposed before", async () => {
    const begun = { kind: "replace-text", value: "Fees", says: "Let the link read “Fees”." };
    const { wrapper } = await bench(LinkMend, shown, views, begun);
    expect(wrapper.find("input").element.value).toBe("Fees");
    expect(wrapper.find("mark").text()).toBe("Fees");
  });
});

describe("another address for a link", () => {
  const shown = finding({
    check: "links/dead",
    selector: "p > a",
    facts: { state: "dead", target: "/feees/" },
    mends: [{ kind: "set-attribute", attribute: "href", value: "/fees/", says: "…" }],
  });
  const answers = {
    ...rows({
      links: [{ name: "Fees", target: "/feees/", address: "http://x/feees/", selector: "p > a" }],
    }),
    "/api/v1/sites/{slug}/links": {
      items: [
        { address: "http://x/fees/" },
        { address: "http://x/feees/" },
        { address: "http://x/fees/" },
      ],
    },
  };

  it("is offered from the mends and from where the same words lead, each once", async () => {
    const { wrapper, proposed } = await bench(AddressMend, shown, answers);
    await flushPromises();
    expect(wrapper.findAll("button").map((one) => one.text())).toEqual([
      "/fees/",
      "http://x/fees/",
    ]);
    await button(wrapper, "http://x/fees/").trigger("click");
    expect(proposed.at(-1)).toEqual({
      kind: "set-attribute",
      attribute: "href",
      value: "http://x/fees/",
      says: "Let the link lead to http://x/fees/.",
    });
  });

  it("is asked for among the links that work in the same environment", async () => {
    await bench(AddressMend, shown, answers);
    await flushPromises();
    const calls = get.mock.calls as unknown as [string, { params: { query: object } }][];
    const asked = calls.find(([address]) => address.endsWith("/links"));
    expect(asked?.[1].params.query).toEqual({
      text: "Fees",
      state: "works",
      environment: "staging",
    });
  });
});

describe("the text of a picture", () => {
  const answers = {
    ...rows({
      pictures: [{ selector: "#here", hash: "abc", source: "/heron.jpg", file: "heron.jpg" }],
    }),
    "/api/v1/sites/{slug}/picture-uses": {
      items: [
        { path: "/a/", text: "A heron" },
        { path: "/a/", text: "A heron" },
        { path: "/b/", text: "" },
      ],
    },
  };

  const texts = (describer: boolean) => ({
    ...answers,
    "/api/v1/findings/{finding_id}/texts": {
      state: "ready",
      problem: "",
      describer,
      items: [{ text: "A heron", comes_from: "its text on 1 other page" }],
    },
  });

  it("says where else it is used, and offers each text with where it comes from", async () => {
    const { wrapper, proposed } = await bench(PictureMend, finding({}), texts(false));
    await flushPromises();
    expect(reads(wrapper)).toContain("heron.jpg is used in 3 places on 2 pages.");
    expect(wrapper.findAll("button.bare").map((one) => one.text())).toEqual(["A heron"]);
    expect(reads(wrapper)).toContain("its text on 1 other page");
    expect(wrapper.text()).not.toContain("Have it described");
    await wrapper.find("button.bare").trigger("click");
    expect(proposed.at(-1)).toMatchObject({ attribute: "alt", value: "A heron" });
  });

  it("may come from a program, which is said, and kept when a person changes it", async () => {
    session.me = { id: 1, role: "editor" } as never;
    post.mockImplementation((() =>
      Promise.resolve({ data: { id: 31, text: "A grey bird", problem: "" } })) as never);
    const { wrapper, proposed } = await bench(PictureMend, finding({}), texts(true));
    await button(wrapper, "Have it described").trigger("click");
    await flushPromises();
    expect(proposed).toEqual([]);
    expect(wrapper.text()).toContain("written by a program");
    await button(wrapper, "A grey bird").trigger("click");
    expect(proposed.at(-1)).toMatchObject({ value: "A grey bird", description: 31 });
    await wrapper.find("textarea").setValue("A grey heron");
    expect(proposed.at(-1)).toMatchObject({ value: "A grey heron", description: 31 });
  });

  it("is empty where the picture is decorative, and comes back when it is not", async () => {
    const { wrapper, proposed } = await bench(PictureMend, finding({}), answers);
    await wrapper.find("textarea").setValue("A heron by the weir");
    await wrapper.find("input[type=checkbox]").setValue(true);
    expect(proposed.at(-1)).toMatchObject({ attribute: "alt", value: "" });
    expect(wrapper.find("textarea").attributes("disabled")).toBeDefined();
    await wrapper.find("input[type=checkbox]").setValue(false);
    expect(proposed.at(-1)).toMatchObject({ value: "A heron by the weir" });
  });

  it("is told to be long before it is refused", async () => {
    const { wrapper } = await bench(PictureMend, finding({}), answers);
    await wrapper.find("textarea").setValue("x".repeat(151));
    expect(wrapper.find(".long").text()).toBe(
      "151 characters, more than 150: say the rest in the page's text",
    );
  });
});

describe("two colours", () => {
  const shown = finding({
    check: "contrast/text",
    selector: ".quiet",
    facts: {
      text: "#999999",
      background: "#ffffff",
      ratio: 2.84,
      required: 4.5,
      font_size: 16,
      font_weight: 400,
      proposals: [],
    },
  });
  const field = (wrapper: VueWrapper, id: string) => wrapper.find(`#${id}`);

  it("are proposed as the rule that changes, or both", async () => {
    const { wrapper, proposed } = await bench(ContrastMend, shown);
    await field(wrapper, "m-text").setValue("#767676");
    expect(proposed.at(-1)).toEqual({
      kind: "set-style",
      property: "color",
      value: "#767676",
      says: "Text #767676 on #ffffff: 4.54:1.",
    });
    await field(wrapper, "m-ground").setValue("#eeeeee");
    expect(proposed.at(-1)!.markup).toBe(".quiet { color: #767676; background-color: #eeeeee; }");
    await field(wrapper, "m-text").setValue("#999999");
    expect(proposed.at(-1)).toMatchObject({ property: "background-color", value: "#eeeeee" });
    await field(wrapper, "m-ground").setValue("#ffffff");
    expect(proposed.at(-1)).toBeNull();
  });

  it("are not proposed while what is written is no colour", async () => {
    const { wrapper, proposed } = await bench(ContrastMend, shown);
    await field(wrapper, "m-text").setValue("#76");
    expect(proposed).toEqual([]);
  });
});

describe("the main heading of a page that has none", () => {
  const outline = rows({
    outline: [
      { kind: "heading", level: 2, name: "Berths", selector: "h2" },
      { kind: "landmark", name: "", selector: "main" },
      { kind: "heading", level: 3, name: "Fees", selector: "h3" },
    ],
  });
  const insert = { kind: "insert", to: "h1", where: "first", target: "main", says: "Write one." };

  it("is one of its headings, by its number among them, or a new one", async () => {
    const { wrapper, proposed } = await bench(
      MainHeadingMend,
      finding({ check: "headings/no-level-1", selector: "html", mends: [insert] }),
      outline,
    );
    await flushPromises();
    const choices = wrapper.findAll("input[type=radio]");
    expect(choices).toHaveLength(3);
    await choices[1]!.setValue(true);
    expect(proposed.at(-1)).toMatchObject({
      kind: "rename-element",
      to: "h1",
      target: "heading 2",
    });
    await choices[2]!.setValue(true);
    expect(proposed.at(-1)).toBeNull();
    await wrapper.find("#m-main").setValue("The berths of the yard");
    expect(proposed.at(-1)).toMatchObject({
      ...insert,
      value: "The berths of the yard",
      says: expect.anything(),
    });
  });
});

describe("a table", () => {
  it("is shown with the header cells that are chosen, by its words alone", async () => {
    const { wrapper, proposed } = await bench(
      TableMend,
      finding({ check: "tables/no-headers", mends: [{ kind: "head-table", to: "row" }] }),
      {
        "/api/v1/findings/{finding_id}/markup": {
          markup:
            "<table><tr><td>Boat<td>Fee<tr><td><img src=x onerror=alert(1)>Skiff<td>4</table>",
        },
      },
    );
    await flushPromises();
    expect(wrapper.findAll("th")).toHaveLength(0);
    expect(wrapper.html()).not.toContain("onerror");
    wrapper.findComponent(ChoiceField).vm.$emit("update:modelValue", "col");
    await flushPromises();
    expect(wrapper.findAll("th").map((one) => one.text())).toEqual(["Boat", "Fee"]);
    expect(proposed.at(-1)).toMatchObject({ kind: "head-table", to: "row" });
  });

  it("gets a caption and headers, written as one reads it", async () => {
    const { wrapper, proposed } = await bench(TableMend, finding({ check: "tables/no-caption" }));
    await wrapper.find("#m-caption").setValue("Tolls & fees < 1900");
    expect(proposed.at(-1)).toEqual({
      kind: "insert",
      to: "caption",
      where: "first",
      says: "Give the table the caption “Tolls & fees < 1900”.",
      value: "Tolls & fees < 1900",
      markup: "<table>\n  <caption>Tolls &amp; fees &lt; 1900</caption>\n</table>",
    });
    await wrapper.find("#m-caption").setValue(" ");
    expect(proposed.at(-1)).toBeNull();
  });
});

describe("any other mend", () => {
  const mend = { kind: "set-attribute", attribute: "lang", value: "de", says: "Say lang=de." };

  it("is one that the check proposes, or advice in words", async () => {
    const { wrapper, proposed } = await bench(WordsMend, finding({ mends: [mend] }));
    const [carriedOut, inWords] = wrapper.findAll("input[type=radio]");
    await carriedOut!.setValue(true);
    expect(proposed.at(-1)).toEqual(mend);
    await inWords!.setValue(true);
    await wrapper.find("textarea").setValue("Say lang=de on the whole section.");
    expect(proposed.at(-1)).toEqual({ kind: "advice", says: "Say lang=de on the whole section." });
    await wrapper.find("textarea").setValue("");
    expect(proposed.at(-1)).toBeNull();
  });

  it("waits for what a person has to write", async () => {
    const name = { kind: "set-attribute", attribute: "aria-label", says: "Name it." };
    const { wrapper, proposed } = await bench(WordsMend, finding({ mends: [name] }));
    await wrapper.find("input[type=radio]").setValue(true);
    expect(proposed).toEqual([]);
    await wrapper.find("#m-value").setValue(" Lock times ");
    expect(proposed.at(-1)).toEqual({ ...name, value: "Lock times" });
  });
});

describe("a word in no dictionary", () => {
  const shown = finding({ check: "text/spelling", facts: { word: "gongoozler", language: "en" } });

  it("becomes one of the site's words by whoever may write", async () => {
    session.me = { id: 1, role: "editor" } as never;
    post.mockImplementation((() => Promise.resolve({ data: { items: [] } })) as never);
    const { wrapper } = await bench(SpellingMend, shown);
    await button(wrapper, "“gongoozler” is right").trigger("click");
    await flushPromises();
    expect(post.mock.calls[0]![0]).toBe("/api/v1/sites/{slug}/words");
  });

  it("is put right by the mend that the check has for its place", async () => {
    const known = {
      kind: "replace-word",
      to: "gongoozler",
      attribute: "alt",
      says: "Put another.",
    };
    const { wrapper, proposed } = await bench(SpellingMend, { ...shown, mends: [known] } as never, {
      "/api/v1/words/suggestions": { items: ["gondolier"] },
    });
    wrapper.findComponent(WordSuggestions).vm.$emit("choose", "gondolier");
    await flushPromises();
    expect(proposed.at(-1)).toEqual({
      ...known,
      value: "gondolier",
      says: "Write “gondolier” in place of “gongoozler”.",
    });
  });

  it("is only looked at by a reader", async () => {
    session.me = { id: 2, role: "reader" } as never;
    const { wrapper } = await bench(SpellingMend, shown);
    expect(button(wrapper, "is right")).toBeUndefined();
  });
});
