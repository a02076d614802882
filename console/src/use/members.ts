import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute } from "vue-router";
import { api, data } from "@/api/client";

/** A person, as far as one is chosen by it. */
interface Named {
  id: number;
  name: string;
  email: string;
  active: boolean;
  role: string | null;
}

/** The people of the site that is looked at; everybody one knows where none is. */
export function useMembers() {
  const route = useRoute();
  const site = computed(() => {
    const given = route?.params.site;
    return typeof given === "string" ? given : undefined;
  });
  return useQuery({
    queryKey: ["members", site],
    queryFn: async (): Promise<{ items: Named[] }> =>
      site.value === undefined
        ? data(api.GET("/api/v1/people"))
        : data(api.GET("/api/v1/sites/{slug}/members", { params: { path: { slug: site.value } } })),
    staleTime: 60_000,
  });
}
