import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

/** The help page of a check by its id. */
export function useCheckHelp(check: () => string) {
  const parts = computed(() => check().split("/"));
  return useQuery({
    queryKey: ["check", computed(check)],
    queryFn: () =>
      data(
        api.GET("/api/v1/checks/{area}/{slug}", {
          params: { path: { area: parts.value[0]!, slug: parts.value[1]! } },
        }),
      ),
    enabled: computed(() => parts.value.length === 2),
    staleTime: Infinity,
  });
}
