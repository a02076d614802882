import { expect, it } from "vitest";
import { Problem } from "@/api/client";
import { asking, confirmed, Left } from "@/use/confirmed";

const wants = () => new Problem(403, "confirm-first", "give your password again first");

it("does at once what wants no password", async () => {
  expect(await confirmed(async () => 7)).toBe(7);
  expect(asking.waits).toBeNull();
});

it("asks for the password, then does it again", async () => {
  let tries = 0;
  const done = confirmed(async () => {
    tries += 1;
    if (tries === 1) throw wants();
    return "made";
  });
  await new Promise((next) => setTimeout(next));
  asking.waits!.go();
  expect(await done).toBe("made");
  expect(tries).toBe(2);
});

it("leaves all as it is where nobody gives it", async () => {
  const left = confirmed(async () => {
    throw wants();
  });
  await new Promise((next) => setTimeout(next));
  asking.waits!.leave();
  await expect(left).rejects.toBeInstanceOf(Left);
});

it("passes other refusals on", async () => {
  const other = new Problem(403, "role-missing", "this needs the role manager");
  await expect(
    confirmed(async () => {
      throw other;
    }),
  ).rejects.toBe(other);
});
