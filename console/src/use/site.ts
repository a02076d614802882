import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

/** A site by its slug: its name, addresses, settings and figures. */
export function useSite(slug: () => string) {
  const path = computed(() => ({ slug: slug() }));
  return useQuery({
    queryKey: ["site", path],
    queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: { path: path.value } })),
  });
}
