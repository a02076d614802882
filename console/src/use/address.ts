import { computed } from "vue";
import { useRoute, useRouter, type LocationQueryRaw } from "vue-router";

/** What stands in the address behind "?": filters, sorting, what is chosen. A link sent shows the same to others. */
export function useAddress() {
  const route = useRoute();
  const router = useRouter();
  const text = (name: string) =>
    typeof route.query[name] === "string" ? route.query[name] : undefined;
  const number = (name: string) => (text(name) ? Number(text(name)) : undefined);
  /** Change some of it; what is empty goes. */
  function set(changes: Record<string, string | null | undefined>) {
    const query: LocationQueryRaw = { ...route.query };
    for (const [name, value] of Object.entries(changes)) {
      if (value) query[name] = value;
      else delete query[name];
    }
    return router.replace({ query, hash: route.hash });
  }
  const any = computed(() => Object.keys(route.query).length > 0);
  const clear = () => router.replace({ query: {} });
  return { text, number, set, any, clear };
}
