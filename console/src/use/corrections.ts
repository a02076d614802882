import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, reactive } from "vue";
import { api, data, type Correction } from "@/api/client";
import type { Proposal } from "@/mends/proposal";
import { announce } from "@/use/announcements";

/** What was drafted here since the console was opened, in its order: what undo and redo go through. */
export const made = reactive<{ done: Correction[]; undone: Correction[] }>({
  done: [],
  undone: [],
});
const SECONDS = 40;
const PAUSE_MS = 250;

export interface Wanted {
  finding: number;
  mend: Proposal;
  why?: string;
  everywhere?: boolean;
  but?: number[];
  description?: number;
}

/** A correction once its page was read with it. */
async function settled(correction: Correction): Promise<Correction> {
  let now = correction;
  for (let tries = 0; now.state === "waiting" && tries < (SECONDS * 1000) / PAUSE_MS; tries++) {
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    now = await data(
      api.GET("/api/v1/corrections/{correction_id}", {
        params: { path: { correction_id: now.id } },
      }),
    );
  }
  return now;
}

function move(id: number, body: { move: "take_back" | "draft_again" } & Record<string, unknown>) {
  return data(
    api.POST("/api/v1/corrections/{correction_id}/moves", {
      params: { path: { correction_id: id } },
      body: { why: "", ...body },
    }),
  );
}

export type State = Correction["state"];
/** Which corrections of a site are wanted. */
export interface Which {
  path?: string;
  cause?: string;
  environment?: "live" | "staging";
  state?: State[];
  mine?: boolean;
  limit?: number;
}
const UNDER_WAY: State[] = ["waiting", "written"];
const SOON_MS = 2000;
const LATER_MS = 10_000;

/** Corrections of a site, looked at again soon while something is under way; none while `which` says nothing. */
export function useCorrectionList(site: () => string, which: () => Which | undefined) {
  return useQuery({
    queryKey: ["corrections", computed(() => [site(), which()])],
    queryFn: () =>
      data(
        api.GET("/api/v1/sites/{slug}/corrections", {
          params: { path: { slug: site() }, query: { limit: 100, ...which() } },
        }),
      ),
    enabled: computed(() => which() !== undefined),
    refetchInterval: (query) =>
      query.state.data?.items.some((one) => UNDER_WAY.includes(one.state)) ? SOON_MS : LATER_MS,
  });
}

/** Drafting corrections, and going back and forth through them. */
export function useCorrections() {
  const cache = useQueryClient();
  const refresh = () =>
    Promise.all(
      ["corrections", "correction", "finding"].map((key) =>
        cache.invalidateQueries({ queryKey: [key] }),
      ),
    );

  async function draft(site: string, wanted: Wanted) {
    const answer = await data(
      api.POST("/api/v1/sites/{slug}/corrections", {
        params: { path: { slug: site } },
        body: {
          finding: wanted.finding,
          mend: { ...wanted.mend },
          why: wanted.why ?? "",
          everywhere: wanted.everywhere ?? false,
          but: wanted.but ?? [],
          insist: false,
          as_references: false,
          description: wanted.description ?? null,
          wait: 20,
        },
      }),
    );
    const first = await settled(answer.first);
    if (first.state === "drafted") {
      made.done.push(first);
      made.undone = [];
    }
    void refresh();
    return { first, ids: answer.ids };
  }

  async function again(correction: Correction, how: { insist?: true; as_references?: true } = {}) {
    const now = await settled(await move(correction.id, { move: "draft_again", ...how }));
    if (now.state === "drafted") made.done.push(now);
    void refresh();
    return now;
  }

  async function takeBack(correction: Correction) {
    const now = await move(correction.id, { move: "take_back" });
    const at = made.done.findIndex((one) => one.id === correction.id);
    if (at >= 0) made.done.splice(at, 1);
    void refresh();
    return now;
  }

  async function undo() {
    const last = made.done.at(-1);
    if (!last) return;
    await takeBack(last);
    made.undone.push(last);
    announce(`Taken back: ${last.says}`);
  }

  async function redo() {
    const last = made.undone.pop();
    if (!last) return;
    const now = await again(last);
    announce(now.state === "drafted" ? `Drafted again: ${now.says}` : now.problem);
  }

  return { draft, again, takeBack, undo, redo, refresh };
}
