import { enableAutoUnmount, flushPromises } from "@vue/test-utils";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { nextTick, ref } from "vue";
import { session } from "@/session";
import { using } from "@/testing/inApp";
import { live, useLive } from "@/use/live";

/** A connection as the browser makes it; the test is the service at its other end. */
class Source extends EventTarget {
  static CLOSED = 2;
  static all: Source[] = [];
  readyState = 1;
  closed = false;
  constructor(readonly address: string) {
    super();
    Source.all.push(this);
  }
  close() {
    this.closed = true;
  }
  say(event: object) {
    this.dispatchEvent(new MessageEvent("live", { data: JSON.stringify(event) }));
  }
  lose(readyState: number) {
    this.readyState = readyState;
    this.dispatchEvent(new Event("error"));
  }
}

enableAutoUnmount(afterEach);
beforeEach(() => {
  Source.all = [];
  vi.stubGlobal("EventSource", Source);
  session.me = { id: 1 } as never;
  live.state = "off";
  live.unread = 0;
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

async function following(first: string | undefined = "trust") {
  const site = ref<string | undefined>(first);
  const app = await using(() => useLive(() => site.value));
  const asked: unknown[] = [];
  app.cache.invalidateQueries = ((what?: { queryKey: string[] }) => {
    asked.push(what ? what.queryKey[0] : "all");
    return Promise.resolve();
  }) as never;
  const last = () => Source.all.at(-1)!;
  return { ...app, site, asked, last };
}

describe("what others do meanwhile", () => {
  it("is heard of the site that is open, and of nobody's when signed out", async () => {
    const { site, last, wrapper } = await following();
    expect(last().address).toBe("/api/v1/sites/trust/live");
    site.value = "museum";
    await nextTick();
    expect(Source.all.map((one) => [one.address, one.closed])).toEqual([
      ["/api/v1/sites/trust/live", true],
      ["/api/v1/sites/museum/live", false],
    ]);
    session.me = null;
    await nextTick();
    expect(last().closed).toBe(true);
    expect(live.state).toBe("off");
    wrapper.unmount();
  });

  it("makes what it touches be asked for again, and nothing else", async () => {
    const { asked, last } = await following();
    last().say({ kind: "notifications", unread: 4 });
    expect(asked.splice(0)).toEqual(["notifications"]);
    expect(live.unread).toBe(4);
    last().say({ kind: "fixes" });
    expect(asked.splice(0)).toEqual(["fixes", "fix", "desk", "causes", "history", "finding"]);
    last().say({ kind: "sweep", state: "running" });
    expect(asked.splice(0)).toEqual(["sweeps"]);
    for (const state of ["done", "failed", "stopped"]) last().say({ kind: "sweep", state });
    expect(asked).toEqual(["all", "all", "all"]);
    expect(live.unread).toBe(4);
  });

  it("is fetched after the connection was lost, whoever opened it again", async () => {
    vi.useFakeTimers();
    const { asked, last } = await following();
    last().dispatchEvent(new Event("open"));
    expect([live.state, asked]).toEqual(["on", []]);
    last().lose(0);
    expect(live.state).toBe("lost");
    vi.advanceTimersByTime(10_000);
    expect(Source.all.length).toBe(1);
    last().lose(Source.CLOSED);
    vi.advanceTimersByTime(3_000);
    expect(Source.all.length).toBe(2);
    last().dispatchEvent(new Event("open"));
    expect([live.state, asked]).toEqual(["on", ["all"]]);
  });

  it("is not asked for again by whoever has left", async () => {
    vi.useFakeTimers();
    const { last, wrapper } = await following();
    last().lose(Source.CLOSED);
    wrapper.unmount();
    vi.advanceTimersByTime(10_000);
    expect(Source.all.length).toBe(1);
    await flushPromises();
  });
});
