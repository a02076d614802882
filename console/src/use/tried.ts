import { useQuery } from "@tanstack/vue-query";
import { computed, onUnmounted, ref, watch } from "vue";
import { api, data } from "@/api/client";
import type { Proposal } from "@/mends/proposal";

/** What is tried in the place of a finding: other markup, or a mend. */
export interface Attempt {
  markup?: string;
  mend?: Proposal;
}
const PAUSE_MS = 300;

/** How a finding's element would be met, a moment after one stops typing; nothing is kept. */
export function useTried(finding: () => number, attempt: () => Attempt | undefined) {
  const asked = ref<Attempt | undefined>(attempt());
  let waiting: ReturnType<typeof setTimeout> | undefined;
  watch(
    () => JSON.stringify(attempt() ?? null),
    () => {
      clearTimeout(waiting);
      waiting = setTimeout(() => (asked.value = attempt()), asked.value ? PAUSE_MS : 0);
    },
  );
  onUnmounted(() => clearTimeout(waiting));
  return useQuery({
    queryKey: ["tried", computed(() => [finding(), asked.value])],
    queryFn: () =>
      data(
        api.POST("/api/v1/findings/{finding_id}/try", {
          params: { path: { finding_id: finding() } },
          body: {
            markup: asked.value!.markup ?? null,
            mend: asked.value!.mend ? { ...asked.value!.mend } : null,
          },
        }),
      ),
    enabled: computed(() => asked.value !== undefined),
    retry: false,
    placeholderData: (before) => before,
  });
}
