import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";
import type { components } from "@/api/schema";

/** Milliseconds until sites are asked for again; not at all where no sweep of them is under way. */
export function againWhileSwept(sites: components["schemas"]["Site"][]): number | false {
  return sites.some((site) => site.under_way.length) && 3000;
}

/** A site by its slug: its name, addresses, settings and figures. */
export function useSite(slug: () => string) {
  const path = computed(() => ({ slug: slug() }));
  return useQuery({
    queryKey: ["site", path],
    queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: { path: path.value } })),
    refetchInterval: (query) => againWhileSwept(query.state.data ? [query.state.data] : []),
  });
}
