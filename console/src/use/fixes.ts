import { computed } from "vue";
import type { Fix } from "@/api/client";
import type { Edition, Weight } from "@/choices";
import { useAddress } from "@/use/address";

export const LIVE: Fix["state"][] = ["open", "in_hand", "returned", "handed_in"];
export const STATES: Fix["state"][] = [...LIVE, "proven", "waived", "void"];

/** The filters that table, board and calendar of fixes have in common, from the address. */
export function useFixFilters() {
  const { text } = useAddress();
  const owner = computed(() => text("owner") ?? "");
  const filters = computed(() => ({
    weight: text("weight") as Weight | undefined,
    edition: text("edition") as Edition | undefined,
    owner: owner.value.startsWith("p") ? Number(owner.value.slice(1)) : undefined,
    group: owner.value.startsWith("g") ? Number(owner.value.slice(1)) : undefined,
    unowned: owner.value === "none" || undefined,
  }));
  return { owner, filters };
}
