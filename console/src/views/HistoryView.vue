<script setup lang="ts">
import { useInfiniteQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import { moveName, moverName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import OwnerPick from "@/parts/OwnerPick.vue";

const props = defineProps<{ site: string }>();
const route = useRoute();
const router = useRouter();
const text = (name: string) =>
  typeof route.query[name] === "string" ? route.query[name] : undefined;
const filters = computed(() => ({
  cause: text("cause"),
  path: text("path"),
  person: text("person") ? Number(text("person")) : undefined,
}));
const person = computed(() => (text("person") ? `p${text("person")}` : ""));
const found = useInfiniteQuery({
  queryKey: ["history", computed(() => props.site), filters],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) =>
    data(
      api.GET("/api/v1/sites/{slug}/history", {
        params: {
          path: { slug: props.site },
          query: { ...filters.value, after: pageParam, limit: 50 },
        },
      }),
    ),
  getNextPageParam: (page) => (page.next ? page.items.at(-1)?.id : undefined),
});
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.items) ?? []);
const what = computed(() =>
  filters.value.path
    ? `on ${filters.value.path}`
    : filters.value.cause
      ? "with one cause"
      : "with the fixes of this site",
);
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">History</h1>
    <p class="soft">Who did what {{ what }}, the newest first.</p>
    <FilterBar>
      <OwnerPick
        id="h-person"
        :model-value="person"
        label="Done by"
        anybody
        @update:model-value="
          (value) =>
            router.replace({
              query: { ...route.query, person: value.startsWith('p') ? value.slice(1) : undefined },
            })
        "
      />
      <Button
        v-if="Object.keys(route.query).length"
        label="Everything"
        variant="text"
        @click="router.replace({ query: {} })"
      />
    </FilterBar>
    <AsyncState
      :loading="found.isPending.value"
      :error="found.error.value"
      what="the history"
      @again="found.refetch()"
    >
      <div v-if="rows.length" class="card">
        <ol class="timeline">
          <li v-for="event in rows" :key="event.id">
            <strong>{{ moverName(event) }}</strong> {{ moveName(event.move) }}
            <span class="soft">{{ time(event.at) }}</span>
            <p>
              <RouterLink
                :to="{ name: 'fix', params: { site, fix: event.fix_id } }"
                :aria-label="`${event.says} ${event.path}, fix ${event.fix_id}, ${moveName(event.move)} ${time(event.at)}`"
                >{{ event.says }}</RouterLink
              >
              <span class="soft">{{ event.path }}</span>
            </p>
            <p v-if="event.why">{{ event.why }}</p>
          </li>
        </ol>
      </div>
      <p v-else class="card">Nothing happened yet.</p>
      <Button
        v-if="found.hasNextPage.value"
        label="Show more"
        variant="outlined"
        :loading="found.isFetchingNextPage.value"
        @click="found.fetchNextPage()"
      />
    </AsyncState>
  </div>
</template>
