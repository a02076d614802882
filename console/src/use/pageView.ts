import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

/** One view of the page of a reading; a reading never changes. */
export function usePageView(
  reading: () => number,
  name: "outline" | "links" | "focus" | "order" | "pictures",
  wanted: () => boolean = () => true,
) {
  return useQuery({
    queryKey: ["page-view", computed(() => [reading(), name])],
    queryFn: () =>
      data(
        api.GET("/api/v1/readings/{reading_id}/views/{name}", {
          params: { path: { reading_id: reading(), name } },
        }),
      ),
    staleTime: Infinity,
    enabled: computed(wanted),
  });
}
