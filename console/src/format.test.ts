import { afterEach, describe, expect, it, vi } from "vitest";
import {
  browserName,
  count,
  day,
  inDays,
  moverName,
  moveName,
  notificationName,
  number,
  readiness,
  says,
  stateName,
} from "@/format";
import { NOTIFICATION_LABELS, STATE_LABELS } from "@/terms";
import { LIVE, STATES } from "@/use/fixes";

afterEach(() => vi.useRealTimers());

describe("words for people", () => {
  it("counts one and many", () => {
    expect(count(1, "page")).toBe("1 page");
    expect(count(0, "page")).toBe("0 pages");
    expect(count(2, "fix", "fixes")).toBe("2 fixes");
    expect(count(12_345, "page")).toBe("12,345 pages");
    expect(number(1_000_000)).toBe("1,000,000");
  });

  it("writes a day without moving it by the time zone", () => {
    expect(day("2026-12-24")).toBe("24 Dec 2026");
    expect(day("2026-12-24T23:59:00Z")).toBe("24 Dec 2026");
  });

  it("counts days across the end of a month and of a year", () => {
    vi.useFakeTimers({ now: new Date("2026-12-30T10:00:00") });
    expect(inDays(0)).toBe("2026-12-30");
    expect(inDays(3)).toBe("2027-01-02");
    expect(inDays(-30)).toBe("2026-11-30");
  });

  it("says what went wrong, whatever was thrown", () => {
    expect(says(new Error("no answer"))).toBe("no answer");
    expect(says("down")).toBe("down");
  });
});

describe("states of fixes", () => {
  it("are all named, none twice", () => {
    expect(STATES.map((one) => stateName(one))).toEqual(STATES.map((one) => STATE_LABELS[one]));
    expect(new Set(Object.values(STATE_LABELS)).size).toBe(STATES.length);
    expect(Object.keys(STATE_LABELS).sort()).toEqual([...STATES].sort());
  });

  it("tell a fault that was never gone from one that came back", () => {
    expect(stateName("reopened", "handed_in")).toBe("still there");
    expect(stateName("reopened", "proven")).toBe("came back");
    expect(stateName("proven", "proven")).toBe("proven");
    expect(notificationName("reopened", "proven")).toBe("Came back");
    expect(notificationName("reopened")).toBe("Found again");
    expect(notificationName("reopened", "handed_in")).toBe("Still there");
    for (const kind of Object.keys(NOTIFICATION_LABELS))
      expect(notificationName(kind)).toBe(NOTIFICATION_LABELS[kind]);
  });

  it("of which some are live", () => {
    expect(LIVE).not.toContain("proven");
    expect(LIVE).toContain("handed_in");
    expect(STATES.slice(0, LIVE.length)).toEqual(LIVE);
  });

  it("show what nobody named as it is", () => {
    expect(stateName("something_new")).toBe("something_new");
    expect(moveName("something_new")).toBe("something_new");
    expect(notificationName("something_new")).toBe("something_new");
  });
});

describe("who moved a fix", () => {
  it.each([
    [{ by: "Ned Osier", actor: "editor", move: "take" }, "Ned Osier"],
    [{ by: null, actor: "reading", move: "make" }, "The site's policy"],
    [{ by: null, actor: "clock", move: "end_waiver" }, "The calendar"],
    [{ by: null, actor: "reading", move: "prove" }, "The reading"],
  ])("%o is %s", (event, name) => expect(moverName(event)).toBe(name));
});

describe("whether a page is ready", () => {
  const page = { status: "read", ready: true, failed: 0 };
  it.each([
    [page, "ready"],
    [{ ...page, failed: 1 }, "ready, 1 lesser fault"],
    [{ ...page, ready: false, failed: 3 }, "not ready"],
    [{ ...page, status: "unreadable", ready: false }, "not read"],
    [{ ...page, left_out_page: true, failed: 2 }, "left out"],
  ])("%o is %s", (one, words) => expect(readiness(one)).toBe(words));
});

it("calls a browser by its name", () => {
  const mozilla = "Mozilla/5.0 (X11; Linux x86_64";
  expect(browserName(`${mozilla}; rv:132.0) Gecko/20100101 Firefox/132.0`)).toBe(
    "Firefox 132 on Linux",
  );
  const webkit = "AppleWebKit/537.36 (KHTML, like Gecko)";
  expect(browserName(`${mozilla}) ${webkit} Chrome/140.0.0.0 Safari/537.36 Edg/140.0`)).toBe(
    "Edge 140 on Linux",
  );
  expect(browserName("plumrake-client/0.1.0")).toBe("plumrake-client/0.1.0");
  expect(browserName("")).toBe("A program");
});
