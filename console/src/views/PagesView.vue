<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data, type Reading } from "@/api/client";
import { type Environment } from "@/choices";
import { count, readiness } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import LeaveOutPages from "@/parts/LeaveOutPages.vue";
import LongList from "@/parts/LongList.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";
import { useSite } from "@/use/site";

const props = defineProps<{ site: string }>();
const { text, number, set, any, clear } = useAddress();
const { data: shown, isPending: siteIsPending, error: siteError } = useSite(() => props.site);
const swept = computed(() =>
  [...(shown.value?.figures ?? [])].sort((a, b) => b.sweep_id - a.sweep_id),
);
const figures = computed(() =>
  number("sweep")
    ? undefined
    : swept.value.find((one) => !text("environment") || one.environment === text("environment")),
);
const sweep = computed(() => number("sweep") ?? figures.value?.sweep_id);
const sort = computed(() => (text("sort") === "path" ? "path" : "weight"));
const filters = computed(() => ({
  ready: text("state") === "ready" ? true : text("state") === "held" ? false : undefined,
  status:
    text("state") === "unreadable"
      ? ("unreadable" as const)
      : text("state") === "held"
        ? ("read" as const)
        : undefined,
  path: text("path"),
}));
const { rows, more, hasMore, isPending, error, refetch } = useListing(
  () => ["pages", props.site, sweep.value, sort.value, filters.value],
  (after) =>
    sweep.value === undefined
      ? Promise.resolve({ items: [] })
      : data(
          api.GET("/api/v1/sweeps/{sweep_id}/readings", {
            params: {
              path: { sweep_id: sweep.value },
              query: { ...filters.value, sort: sort.value, limit: 200, ...after },
            },
          }),
        ),
);
const path = ref(text("path") ?? "");
watch(
  () => text("path"),
  (value) => (path.value = value ?? ""),
);
useRowKeys("page");
const faults = (row: Reading) =>
  [
    row.barriers && count(row.barriers, "barrier"),
    row.obstacles && count(row.obstacles, "obstacle"),
    row.frictions && count(row.frictions, "friction"),
  ]
    .filter(Boolean)
    .join(", ") || "no fault";
const SORTS = [
  { label: "Heaviest", value: "weight" },
  { label: "Path", value: "path" },
];
const STATES = [
  { label: "Ready", value: "ready" },
  { label: "Not ready", value: "held" },
  { label: "Could not be read", value: "unreadable" },
];
</script>

<template>
  <div class="stack">
    <div class="titled">
      <h1 tabindex="-1">Pages</h1>
      <TermHelp term="ready" />
    </div>
    <FilterBar @submit="set({ path })">
      <EnvironmentField
        :model-value="(text('environment') as Environment | undefined) ?? figures?.environment"
        :site="site"
        :all="figures ? null : 'Newest sweep'"
        @update:model-value="(environment) => set({ environment, sweep: null })"
      />
      <ChoiceField
        :model-value="text('state')"
        label="State"
        :options="STATES"
        @update:model-value="(one) => set({ state: one })"
      />
      <div class="field">
        <label for="p-path">Path begins with</label
        ><InputText id="p-path" v-model="path" placeholder="/" @change="set({ path })" />
      </div>
      <ChoiceField
        :model-value="sort"
        label="Sorted by"
        :options="SORTS"
        :all="null"
        @update:model-value="(one) => set({ sort: one === 'path' ? one : null })"
      />
      <Button v-if="any" label="All pages" variant="text" @click="clear()" />
    </FilterBar>
    <SavedFilters :site="site" view="pages" />
    <AsyncState
      :loading="siteIsPending || isPending"
      :error="siteError ?? error"
      what="the pages"
      @again="refetch()"
    >
      <LeaveOutPages
        v-if="
          shown &&
          session.me?.role === 'manager' &&
          text('path') &&
          text('path') !== '/' &&
          rows.length
        "
        :key="text('path')"
        :site="shown"
        :below="text('path')!"
      />
      <p role="status">
        {{ count(rows.length, "page") }}{{ hasMore ? " and more" : ""
        }}<template v-if="sweep">
          of
          <RouterLink :to="{ name: 'sweep', params: { site, sweep } }"
            >sweep {{ sweep }}</RouterLink
          ></template
        >
      </p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(row) => row.id"
        :has-more="hasMore"
        :label="sort === 'path' ? 'Pages by path' : 'Pages, those with the heaviest faults first'"
        @more="more"
      >
        <template #default="{ row }"
          ><div class="page">
            <span
              class="state"
              :class="
                row.left_out_page
                  ? ''
                  : row.status !== 'read'
                    ? 'reopened'
                    : row.ready
                      ? 'proven'
                      : ''
              "
              >{{ readiness(row) }}</span
            >
            <div>
              <RouterLink
                :to="{
                  name: 'page',
                  params: { site },
                  query: {
                    path: row.path,
                    ...(text('environment') ? { environment: text('environment') } : {}),
                    reading: String(row.id),
                  },
                }"
                :aria-label="`${row.title || 'no title'}, ${row.path}`"
                >{{ row.title || "no title" }}</RouterLink
              >
              <p class="soft small">
                {{ row.path }}{{ row.problem_says ? ` · ${row.problem_says}` : "" }}
              </p>
            </div>
            <span class="figure">{{ row.status === "read" ? faults(row) : "" }}</span>
          </div></template
        >
      </LongList>
      <p v-else class="card">No page{{ any ? " with these filters" : ". A sweep finds them" }}.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  padding: 9px 18px;
}
.page > .state {
  flex: 0 0 5.6em;
}
.page > div {
  flex: 1 1 16em;
  min-width: 0;
}
.page p {
  overflow-wrap: anywhere;
}
</style>
