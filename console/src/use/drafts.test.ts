import { beforeEach, describe, expect, it } from "vitest";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";

const as = (id: number) => (session.me = { id } as typeof session.me);

beforeEach(() => {
  localStorage.clear();
  as(1);
});

describe("what somebody types", () => {
  it("is there again, for the same person alone", () => {
    useDraft("note:7").words.value = "asked the photographer";
    const again = useDraft("note:7");
    expect([again.words.value, again.isKept]).toEqual(["asked the photographer", true]);
    as(2);
    const other = useDraft("note:7");
    expect([other.words.value, other.isKept]).toEqual(["", false]);
  });

  it("is not kept where it says nothing beyond the beginning", () => {
    const draft = useDraft("policy", "hold = none");
    expect(draft.words.value).toBe("hold = none");
    draft.words.value = "hold = barrier";
    expect(useDraft("policy", "hold = none").isKept).toBe(true);
    draft.words.value = "hold = none";
    expect(useDraft("policy", "hold = none").isKept).toBe(false);
  });

  it("goes when it was sent", () => {
    const draft = useDraft("note:8");
    draft.words.value = "sent";
    draft.forget();
    expect(draft.words.value).toBe("");
    expect(useDraft("note:8").isKept).toBe(false);
    expect(localStorage.length).toBe(0);
  });
});
