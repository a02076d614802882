import { flushPromises } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api } from "@/api/client";
import { using } from "@/testing/inApp";
import { said, undoLast } from "@/use/announcements";
import { useSiteWords } from "@/use/words";

const post = vi.spyOn(api, "POST");
const drop = vi.spyOn(api, "DELETE");
const sent = () =>
  (post.mock.calls as unknown as [string, { body: { words: string[] } }][]).map(
    ([, asked]) => asked.body.words,
  );

beforeEach(() => {
  said.splice(0);
  for (const one of [post, drop]) one.mockReset();
  drop.mockImplementation((() => Promise.resolve({ data: null })) as never);
});

async function words(added: number) {
  post.mockImplementation((() => Promise.resolve({ data: { added } })) as never);
  return (await using(() => useSiteWords(() => "trust"))).got;
}

describe("the site's own words", () => {
  it("are added one by one, each with its way back", async () => {
    const { add } = await words(1);
    add.mutate(["gongoozler"]);
    await flushPromises();
    expect(said.at(-1)?.says).toBe("“gongoozler” is one of the site’s words now.");
    await undoLast();
    expect((drop.mock.calls[0]![1] as unknown as { params: { path: object } }).params.path).toEqual(
      {
        slug: "trust",
        word: "gongoozler",
      },
    );
  });

  it("have nothing to take back where they were there already", async () => {
    const { add } = await words(0);
    add.mutate(["gongoozler"]);
    await flushPromises();
    expect(said.at(-1)?.says).toBe("“gongoozler” was one of the site’s words already.");
    await undoLast();
    expect(drop).not.toHaveBeenCalled();
  });

  it("say how many of a list are new", async () => {
    const { add } = await words(2);
    add.mutate(["a", "b", "c"]);
    await flushPromises();
    expect(said.at(-1)?.says).toBe("2 of 3 words are new among the site’s.");
  });

  it("come back after they were dropped", async () => {
    const { drop: forget } = await words(1);
    forget.mutate("weir");
    await flushPromises();
    expect(said.at(-1)?.says).toContain("“weir” is doubtful again");
    await undoLast();
    expect(sent()).toEqual([["weir"]]);
  });
});
