import { flushPromises } from "@vue/test-utils";
import { describe, expect, it } from "vitest";
import { ref } from "vue";
import { using } from "@/testing/inApp";
import { useListing } from "@/use/listing";

const PARTS: Record<string, { items: number[]; next?: string; total?: number }> = {
  "": { items: [1, 2], next: "/api/v1/x?limit=2&after=%5B1%2C+2%5D&sweep=9", total: 5 },
  "[1, 2]": { items: [3, 4], next: "/api/v1/x?limit=2&after=4" },
  "4": { items: [5] },
};

describe("a listing", () => {
  it("comes part by part, each after the last row of the one before", async () => {
    const asked: unknown[] = [];
    const { got } = await using(() =>
      useListing<number>(["numbers"], (after) => {
        asked.push(after);
        return Promise.resolve(PARTS[(after as { after?: string })?.after ?? ""]!);
      }),
    );
    expect([got.rows.value, got.total.value, got.hasMore.value]).toEqual([[1, 2], 5, true]);
    got.more();
    got.more();
    await flushPromises();
    expect(got.rows.value).toEqual([1, 2, 3, 4]);
    got.more();
    await flushPromises();
    expect([got.rows.value, got.hasMore.value]).toEqual([[1, 2, 3, 4, 5], false]);
    got.more();
    await flushPromises();
    expect(asked).toEqual([{}, { after: "[1, 2]" }, { after: "4" }]);
  });

  it("keeps showing the old rows until those of other filters are there", async () => {
    const filter = ref("a");
    const { got } = await using(() =>
      useListing<string>(
        () => ["letters", filter.value],
        () => Promise.resolve({ items: [filter.value] }),
      ),
    );
    filter.value = "b";
    await Promise.resolve();
    expect(got.rows.value).toEqual(["a"]);
    await flushPromises();
    expect([got.rows.value, got.total.value]).toEqual([["b"], 1]);
  });

  it("says what went wrong", async () => {
    const { got } = await using(() =>
      useListing(["none"], () => Promise.reject(new Error("no answer"))),
    );
    expect(got.error.value?.message).toBe("no answer");
    expect(got.rows.value).toEqual([]);
  });
});
