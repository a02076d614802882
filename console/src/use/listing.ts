import { useInfiniteQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";

interface Part<Item> {
  items: Item[];
  next?: string | null;
  total?: number | null;
}
/** The keys that the next part of a listing comes after, as its link has them. */
type After = Record<string, never>;

function afterOf(next: string | null | undefined): After | undefined {
  if (!next) return undefined;
  const given = new URL(next, location.origin).searchParams;
  return Object.fromEntries([...given].filter(([name]) => name.startsWith("after"))) as After;
}

/** A listing that is fetched part by part as one goes on. */
export function useListing<Item>(
  key: MaybeRefOrGetter<unknown[]>,
  part: (after: After) => Promise<Part<Item>>,
) {
  const found = useInfiniteQuery({
    queryKey: computed(() => toValue(key)),
    initialPageParam: {} as After,
    queryFn: ({ pageParam }) => part(pageParam as After),
    getNextPageParam: (last) => afterOf(last.next),
    placeholderData: (before) => before,
  });
  const rows = computed<Item[]>(() => found.data.value?.pages.flatMap((one) => one.items) ?? []);
  const total = computed(() => found.data.value?.pages[0]?.total ?? rows.value.length);
  const more = () => {
    if (found.hasNextPage.value && !found.isFetchingNextPage.value) void found.fetchNextPage();
  };
  return {
    rows,
    total,
    more,
    hasMore: found.hasNextPage,
    isPending: found.isPending,
    isFetching: found.isFetching,
    error: found.error,
    refetch: found.refetch,
  };
}
