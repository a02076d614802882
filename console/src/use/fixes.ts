import { computed } from "vue";
import type { Fix } from "@/api/client";
import type { Environment, Weight } from "@/choices";
import { LIVE_STATES, STATE_LABELS } from "@/terms";
import { useAddress } from "@/use/address";

export const LIVE: Fix["state"][] = [...LIVE_STATES];
export const STATES = Object.keys(STATE_LABELS) as Fix["state"][];

/** The filters that table, board and calendar of fixes have in common, from the address. */
export function useFixFilters() {
  const { text } = useAddress();
  const owner = computed(() => text("owner") ?? "");
  const filters = computed(() => ({
    weight: text("weight") as Weight | undefined,
    environment: text("environment") as Environment | undefined,
    owner: owner.value.startsWith("p") ? Number(owner.value.slice(1)) : undefined,
    group: owner.value.startsWith("g") ? Number(owner.value.slice(1)) : undefined,
    unowned: owner.value === "none" || undefined,
  }));
  return { owner, filters };
}
