import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data, type PagePictureKind } from "@/api/client";

export const OWN_LAYOUTS = ["narrow", "enlarged", "spaced"] as const;

/** A picture of a reading's page in another layout, drawn by the worker when it is first looked at; nothing is asked while no kind is wanted. */
export function useDrawnPage(reading: () => number, kind: () => PagePictureKind | undefined) {
  return useQuery({
    queryKey: ["drawn-page", computed(() => [reading(), kind()])],
    queryFn: () =>
      data(
        api.GET("/api/v1/readings/{reading_id}/pictures/{kind}", {
          params: { path: { reading_id: reading(), kind: kind()! }, query: { wait: 15 } },
        }),
      ),
    staleTime: Infinity,
    refetchInterval: (query) => (query.state.data?.state === "waiting" ? 1000 : false),
    enabled: computed(() => kind() !== undefined),
  });
}
