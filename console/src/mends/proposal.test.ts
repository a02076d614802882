import { describe, expect, it } from "vitest";
import type { Finding } from "@/api/client";
import { markupOf } from "@/mends/proposal";

const of = (excerpt: string, selector = "main > img") => ({ excerpt, selector }) as Finding;
const SAYS = "Say it.";

describe("a mend as it is to be written", () => {
  it("sets an attribute that is not there", () => {
    const made = markupOf(of('<img src="a.jpg">'), {
      kind: "set-attribute",
      attribute: "alt",
      value: "A lock",
      says: SAYS,
    });
    expect(made).toBe('<img src="a.jpg" alt="A lock">');
  });

  it.each([
    ['<img alt="old" src=a.jpg>', '<img src=a.jpg alt="new">'],
    ["<img alt='old' src=a.jpg>", '<img src=a.jpg alt="new">'],
    ["<img alt=old src=a.jpg>", '<img src=a.jpg alt="new">'],
    ["<img alt src=a.jpg>", '<img src=a.jpg alt="new">'],
    ["<img ALT = 'old' src=a.jpg>", '<img src=a.jpg alt="new">'],
    ["<img src=a.jpg data-alt=x>", '<img src=a.jpg data-alt=x alt="new">'],
  ])("puts one in the place of another in %s", (excerpt, expected) => {
    const mend = { kind: "set-attribute", attribute: "alt", value: "new", says: SAYS };
    expect(markupOf(of(excerpt), mend)).toBe(expected);
  });

  it("writes what would end the attribute as character references", () => {
    const mend = {
      kind: "set-attribute",
      attribute: "alt",
      value: 'A "lock" & <weir>',
      says: SAYS,
    };
    expect(markupOf(of("<img>"), mend)).toBe('<img alt="A &quot;lock&quot; &amp; &lt;weir>">');
  });

  it("takes an attribute away", () => {
    const mend = { kind: "remove-attribute", attribute: "tabindex", says: SAYS };
    expect(markupOf(of('<a href="/x/" tabindex="3">x</a>'), mend)).toBe('<a href="/x/">x</a>');
  });

  it("renames an element at both ends, and what its role said goes", () => {
    const mend = { kind: "rename-element", to: "h2", says: SAYS };
    expect(markupOf(of('<div role="heading" aria-level="2" class="x">Fees</div>'), mend)).toBe(
      '<h2 class="x">Fees</h2>',
    );
  });

  it("replaces the text between the tags", () => {
    const mend = { kind: "replace-text", value: "Fees & times", says: SAYS };
    expect(markupOf(of('<a href="/fees/">click here</a>'), mend)).toBe(
      '<a href="/fees/">Fees &amp; times</a>',
    );
  });

  it("writes a rule of style", () => {
    const mend = { kind: "set-style", property: "color", value: "#123456", says: SAYS };
    expect(markupOf(of("<p>x</p>", "main > p"), mend)).toBe("main > p { color: #123456; }");
  });

  it("shows what is given whole as it is, and says the rest in words", () => {
    expect(markupOf(of("<p>x</p>"), { kind: "insert", markup: "<th>", says: SAYS })).toBe("<th>");
    expect(markupOf(of("<p>x</p>"), { kind: "ask", says: SAYS })).toBe(SAYS);
    expect(
      markupOf(of("no tag"), { kind: "set-attribute", attribute: "alt", value: "x", says: SAYS }),
    ).toBe("no tag");
  });
});
