<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data, type Finding } from "@/api/client";
import type { Environment, Outcome, Weight, Zone } from "@/choices";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import FaultFields from "@/parts/FaultFields.vue";
import FindingRow from "@/parts/FindingRow.vue";
import LongList from "@/parts/LongList.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string }>();
const { text, number, set, any, clear } = useAddress();
const SORTS = [
  { label: "Heaviest", value: "weight" },
  { label: "Page", value: "page" },
];
const filters = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
  check: text("check"),
  weight: text("weight") as Weight | undefined,
  outcome: text("outcome") as Outcome | undefined,
  path: text("path"),
  at: text("at"),
  cause: text("cause"),
  zone: text("zone") as Zone | undefined,
  sort: text("sort") === "page" ? ("page" as const) : ("weight" as const),
}));
const { data: sweep } = useQuery({
  queryKey: ["sweep", computed(() => filters.value.sweep)],
  queryFn: () =>
    data(
      api.GET("/api/v1/sweeps/{sweep_id}", {
        params: { path: { sweep_id: filters.value.sweep! } },
      }),
    ),
  enabled: computed(() => filters.value.sweep !== undefined),
});
const { rows, total, more, hasMore, isPending, error, refetch } = useListing<Finding>(
  () => ["findings", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/findings", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 200, ...after } },
      }),
    ),
);
const path = ref(filters.value.path ?? "");
watch(
  () => filters.value.path,
  (value) => (path.value = value ?? ""),
);
const environment = computed(() => sweep.value?.environment ?? filters.value.environment);
useRowKeys("finding");
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Findings</h1>
    <FilterBar @submit="set({ path })">
      <FaultFields
        :site="site"
        :environment="environment"
        :weight="filters.weight"
        :outcome="filters.outcome"
        :zone="filters.zone"
        :check="filters.check"
        @set="set"
      />
      <ChoiceField
        :model-value="filters.sort"
        label="Sorted by"
        :options="SORTS"
        :all="null"
        @update:model-value="(sort) => set({ sort: sort === 'page' ? sort : null })"
      />
      <div class="field">
        <label for="f-path">Path begins with</label
        ><InputText id="f-path" v-model="path" placeholder="/" @change="set({ path })" />
      </div>
      <Button v-if="any" label="All findings" variant="text" @click="clear()" />
    </FilterBar>
    <SavedFilters :site="site" view="findings" />
    <AsyncState :loading="isPending" :error="error" what="the findings" @again="refetch()">
      <h2 class="only-aloud">What was found</h2>
      <p role="status">
        {{ total >= 10000 ? "10,000 findings or more" : count(total, "finding")
        }}<template v-if="sweep">
          of
          <RouterLink :to="{ name: 'sweep', params: { site, sweep: sweep.id } }"
            >sweep {{ sweep.id }}</RouterLink
          >, {{ sweep.environment }}</template
        ><template v-if="filters.cause">
          with
          <RouterLink
            :to="{
              name: 'cause',
              params: { site, cause: filters.cause },
              query: filters.sweep ? { sweep: String(filters.sweep) } : {},
            }"
            >one cause</RouterLink
          ></template
        ><template v-if="filters.at"> on {{ filters.at }}</template>
      </p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(one) => one.id"
        :has-more="hasMore"
        label="Findings"
        @more="more"
      >
        <template #default="{ row }"><FindingRow :finding="row" :site="site" /></template>
      </LongList>
      <p v-else class="card">
        No finding{{
          any
            ? " with these filters"
            : ": either nothing is wrong, or no sweep has read the site yet"
        }}.
      </p>
    </AsyncState>
  </div>
</template>
