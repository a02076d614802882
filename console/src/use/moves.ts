import { useMutation, useQueryClient, type QueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import { api, data, ownerOf, Problem, uniqueKey, type Fix, type FixInFull } from "@/api/client";
import { day, stateName } from "@/format";
import { announce } from "@/use/announcements";

export type MoveName = "take" | "put_back" | "assign" | "due" | "note" | "hand_in" | "withdraw";
export interface Wanted {
  fix: Fix;
  move: MoveName;
  why?: string;
  owner?: string;
  due_on?: string | null;
  quiet?: boolean;
}
/** What one wanted of a fix that somebody moved meanwhile, as one saw it and as it is. */
export interface Conflict {
  wanted: Wanted;
  now: FixInFull;
  says: string;
}

const AFTER: Partial<Record<MoveName, Fix["state"]>> = {
  take: "in_hand",
  hand_in: "handed_in",
  put_back: "open",
  withdraw: "in_hand",
};
const LISTS = ["fixes", "desk", "fix"];

function replaced(known: unknown, id: number, change: Partial<Fix>): unknown {
  if (Array.isArray(known)) return known.map((one) => replaced(one, id, change));
  if (typeof known !== "object" || known === null) return known;
  const one = known as Record<string, unknown>;
  if (one.id === id && "times_reopened" in one) return { ...one, ...change };
  const inner = ["pages", "items", "fixes"].filter((name) => Array.isArray(one[name]));
  return inner.length
    ? {
        ...one,
        ...Object.fromEntries(inner.map((name) => [name, replaced(one[name], id, change)])),
      }
    : known;
}

/** Show a change of a fix wherever it is listed before the service answers; returns how it was. */
async function show(cache: QueryClient, id: number, change: Partial<Fix>) {
  const kept: [readonly unknown[], unknown][] = [];
  for (const key of LISTS) {
    await cache.cancelQueries({ queryKey: [key] });
    for (const [queryKey, known] of cache.getQueriesData({ queryKey: [key] })) {
      kept.push([queryKey, known]);
      cache.setQueryData(queryKey, replaced(known, id, change));
    }
  }
  return kept;
}

const ownerKey = (fix: Fix) =>
  fix.owner_id ? `p${fix.owner_id}` : fix.group_id ? `g${fix.group_id}` : "none";

function said(wanted: Wanted, after: Fix): string {
  if (wanted.move === "assign")
    return `Fix ${after.id} is handed on to ${after.owner ?? after.group ?? "nobody"}.`;
  if (wanted.move === "due")
    return `Fix ${after.id} is due ${after.due_on ? day(after.due_on) : "no day"} now.`;
  return wanted.move === "hand_in"
    ? `Fix ${after.id} is handed in; its pages are being read again.`
    : `Fix ${after.id} is ${stateName(after.state, after.reopened_after)} now.`;
}

/** Moving fixes: shown at once, with the way back; what somebody else changed meanwhile is told with both versions. */
export function useMoves() {
  const cache = useQueryClient();
  const conflict = ref<Conflict | null>(null);

  function wayBack(wanted: Wanted, after: FixInFull): (() => Promise<unknown>) | undefined {
    const { fix } = wanted;
    const back = (move: MoveName, more: Partial<Wanted> = {}) =>
      move_.mutateAsync({ fix: after, move, quiet: true, ...more });
    if (wanted.move === "take" && fix.state === "open")
      return () =>
        back("put_back").then(() =>
          fix.owner_id === after.owner_id
            ? undefined
            : cache.invalidateQueries({ queryKey: ["fixes"] }),
        );
    if (wanted.move === "hand_in") return () => back("withdraw");
    if (wanted.move === "put_back") return () => back("take");
    if (wanted.move === "assign")
      return () => back("assign", { owner: ownerKey(fix), due_on: fix.due_on });
    if (wanted.move === "due") return () => back("due", { due_on: fix.due_on });
    return undefined;
  }

  const move_ = useMutation({
    mutationFn: ({ fix, move, why = "", owner, due_on }: Wanted) =>
      data(
        api.POST("/api/v1/fixes/{fix_id}/moves", {
          params: {
            path: { fix_id: fix.id },
            header: { "if-match": fix.tag, "Idempotency-Key": uniqueKey() },
          },
          body: {
            move,
            why,
            links: [],
            ...(owner === undefined ? {} : { owner: ownerOf(owner) }),
            ...(due_on ? { due_on } : {}),
          },
        }),
      ),
    onMutate: async ({ fix, move, due_on }) => {
      conflict.value = null;
      const state = AFTER[move];
      return state || move === "due"
        ? show(cache, fix.id, {
            ...(state ? { state } : {}),
            ...(move === "due" ? { due_on: due_on ?? null } : {}),
          })
        : [];
    },
    onSuccess: async (after, wanted) => {
      await show(cache, after.id, { ...after });
      if (!wanted.quiet && wanted.move !== "note")
        announce(said(wanted, after), wayBack(wanted, after));
      await Promise.all(
        [...LISTS, "causes", "history"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
      );
    },
    onError: async (problem, wanted, before) => {
      for (const [key, known] of before ?? []) cache.setQueryData(key, known);
      if (!(problem instanceof Problem) || problem.code !== "changed-meanwhile") return;
      const now = await data(
        api.GET("/api/v1/fixes/{fix_id}", { params: { path: { fix_id: wanted.fix.id } } }),
      );
      cache.setQueryData(["fix", now.id], now);
      conflict.value = { wanted, now, says: problem.message };
    },
  });
  return { move: move_, conflict };
}
