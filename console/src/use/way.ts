import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

/** One way to look at the page of a reading; a reading never changes. */
export function useWay(reading: () => number, name: "outline" | "links") {
  return useQuery({
    queryKey: ["way", computed(() => [reading(), name])],
    queryFn: () => data(api.GET("/api/v1/readings/{reading_id}/ways/{name}", { params: { path: { reading_id: reading(), name } } })),
    staleTime: Infinity,
  });
}
