import { beforeEach, describe, expect, it } from "vitest";
import { announce, close, said, undoLast } from "@/use/announcements";

beforeEach(() => {
  said.splice(0);
});

describe("what was just done is said, with its way back", () => {
  it("keeps the newest three", () => {
    for (const words of ["one", "two", "three", "four"]) announce(words);
    expect(said.map((one) => one.says)).toEqual(["two", "three", "four"]);
  });

  it("takes back the newest that can be, and says so", async () => {
    const undone: string[] = [];
    announce("handed out", () => Promise.resolve(undone.push("handed out")));
    announce("looked at");
    await undoLast();
    expect(undone).toEqual(["handed out"]);
    expect(said.map((one) => one.says)).toEqual(["looked at", "Taken back: handed out"]);
  });

  it("says why something could not be taken back", async () => {
    announce("waived", () => Promise.reject(new Error("somebody was first")));
    await undoLast();
    expect(said.at(-1)?.says).toBe("Could not be taken back: somebody was first");
  });

  it("does nothing where there is nothing to take back", async () => {
    announce("looked at");
    await undoLast();
    close(said[0]!.id);
    expect(said).toEqual([]);
  });
});
