import { flushPromises } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, Problem, type Fix, type FixInFull } from "@/api/client";
import { using } from "@/testing/inApp";
import { said, undoLast } from "@/use/announcements";
import { useMoves } from "@/use/moves";

const FIX = {
  id: 7,
  state: "open",
  reopened_after: null,
  owner_id: 3,
  owner: "Ned Osier",
  group_id: null,
  group: null,
  due_on: "2026-12-01",
  times_reopened: 0,
  tag: '"1"',
} as unknown as Fix;
const after = (change: Partial<Fix>) => ({ ...FIX, tag: '"2"', ...change }) as FixInFull;

let answer: () => Promise<unknown>;
const post = vi.spyOn(api, "POST");
const get = vi.spyOn(api, "GET");
const body = (call: number) => (post.mock.calls[call]![1] as unknown as { body: object }).body;

beforeEach(() => {
  said.splice(0);
  post.mockReset();
  get.mockReset();
  post.mockImplementation((() => answer()) as never);
});

async function moves() {
  const app = await using(useMoves);
  app.cache.setQueryData(["fixes", "list"], { pages: [{ items: [FIX, { ...FIX, id: 8 }] }] });
  const states = () =>
    (
      app.cache.getQueryData(["fixes", "list"]) as { pages: { items: Fix[] }[] }
    ).pages[0]!.items.map((one) => one.state);
  return { ...app, states };
}

describe("moving a fix", () => {
  it("is shown wherever it is listed before the service has answered", async () => {
    const { got, states } = await moves();
    let done: (value: unknown) => void = () => undefined;
    answer = () => new Promise((resolve) => (done = resolve));
    got.move.mutate({ fix: FIX, move: "take" });
    await flushPromises();
    expect(states()).toEqual(["in_hand", "open"]);
    done({ data: after({ state: "in_hand", owner: "Imke Sander" }) });
    await flushPromises();
    expect(said.at(-1)?.says).toBe("Fix 7 is in hand now.");
  });

  it("stands as before where it was refused", async () => {
    const { got, states } = await moves();
    answer = () => Promise.reject(new Problem(403, "role-missing", "for its owner or a manager"));
    got.move.mutate({ fix: FIX, move: "take" });
    await flushPromises();
    expect(states()).toEqual(["open", "open"]);
    expect(got.conflict.value).toBeNull();
    expect(got.move.error.value?.message).toBe("for its owner or a manager");
  });

  it("shows both versions where somebody was first", async () => {
    const { got, states } = await moves();
    const now = after({ state: "handed_in", owner: "Ruth Alder" });
    answer = () => Promise.reject(new Problem(412, "changed-meanwhile", "somebody moved it"));
    get.mockImplementation((() => Promise.resolve({ data: now })) as never);
    const wanted = { fix: FIX, move: "due", due_on: "2026-12-24" } as const;
    got.move.mutate(wanted);
    await flushPromises();
    expect(got.conflict.value).toEqual({ wanted, now, says: "somebody moved it" });
    expect(states()).toEqual(["open", "open"]);
  });

  it("is sent with the tag it was seen with, and nothing that was not asked for", async () => {
    const { got } = await moves();
    answer = () => Promise.resolve({ data: after({}) });
    got.move.mutate({ fix: FIX, move: "assign", owner: "g4", why: "you know the tables" });
    await flushPromises();
    expect(body(0)).toEqual({
      move: "assign",
      why: "you know the tables",
      links: [],
      owner: { person_id: null, group_id: 4 },
    });
    const { header } = (post.mock.calls[0]![1] as { params: { header: Record<string, string> } })
      .params;
    expect(header["if-match"]).toBe('"1"');
    expect(header["Idempotency-Key"]).toMatch(/^[0-9a-f]{32}$/);
  });

  it.each([
    ["take", {}, { move: "put_back", why: "", links: [] }],
    ["hand_in", {}, { move: "withdraw", why: "", links: [] }],
    [
      "assign",
      { owner: "p9" },
      {
        move: "assign",
        why: "",
        links: [],
        owner: { person_id: 3, group_id: null },
        due_on: "2026-12-01",
      },
    ],
    ["due", { due_on: null }, { move: "due", why: "", links: [], due_on: "2026-12-01" }],
  ] as const)("%s has its way back", async (move, more, expected) => {
    const { got } = await moves();
    answer = () => Promise.resolve({ data: after({}) });
    got.move.mutate({ fix: FIX, move, ...more });
    await flushPromises();
    await undoLast();
    await flushPromises();
    expect(body(1)).toEqual(expected);
    expect(said).toHaveLength(1);
    expect(said[0]!.says).toMatch(/^Taken back: Fix 7 is /);
  });

  it("by a note says nothing aloud", async () => {
    const { got } = await moves();
    answer = () => Promise.resolve({ data: after({}) });
    got.move.mutate({ fix: FIX, move: "note", why: "asked" });
    await flushPromises();
    expect(said).toEqual([]);
  });
});
