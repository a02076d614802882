import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";
import type { Environment } from "@/choices";

/** How far the review of a site's environment is. */
export function useReview(site: () => string, environment: () => Environment) {
  return useQuery({
    queryKey: ["review", computed(() => [site(), environment()])],
    queryFn: () =>
      data(
        api.GET("/api/v1/sites/{slug}/review", {
          params: { path: { slug: site() }, query: { environment: environment() } },
        }),
      ),
  });
}
