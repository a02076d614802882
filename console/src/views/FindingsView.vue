<script setup lang="ts">
import { useInfiniteQuery, useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FindingRow from "@/parts/FindingRow.vue";

type Weight = "barrier" | "obstacle" | "friction";
const props = defineProps<{ site: string }>();
const route = useRoute();
const router = useRouter();

const text = (name: string) => (typeof route.query[name] === "string" ? route.query[name] : undefined);
const filters = computed(() => ({
  sweep: text("sweep") ? Number(text("sweep")) : undefined,
  edition: text("edition") as "live" | "staging" | undefined,
  check: text("check"),
  weight: text("weight") as Weight | undefined,
  outcome: text("outcome") as "failed" | "cantTell" | undefined,
  path: text("path"),
  cause: text("cause"),
}));

function set(name: string, value: string | null | undefined) {
  const query = { ...route.query, [name]: value || undefined };
  if (name === "edition") delete query.sweep;
  router.replace({ query });
}

const { data: checks } = useQuery({ queryKey: ["checks"], queryFn: () => data(api.GET("/api/v1/checks")), staleTime: Infinity });
const { data: sweep } = useQuery({
  queryKey: ["sweep", computed(() => filters.value.sweep)],
  queryFn: () => data(api.GET("/api/v1/sweeps/{sweep_id}", { params: { path: { sweep_id: filters.value.sweep! } } })),
  enabled: computed(() => filters.value.sweep !== undefined),
});
const found = useInfiniteQuery({
  queryKey: ["findings", computed(() => props.site), filters],
  initialPageParam: 0,
  queryFn: ({ pageParam }) => data(api.GET("/api/v1/sites/{slug}/findings", {
    params: { path: { slug: props.site }, query: { ...filters.value, after: pageParam, limit: 50 } },
  })),
  getNextPageParam: (page) => (page.next ? page.items.at(-1)?.ordinal : undefined),
});
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.items) ?? []);
const total = computed(() => found.data.value?.pages[0]?.total ?? 0);

const path = ref(filters.value.path ?? "");
watch(() => filters.value.path, (value) => (path.value = value ?? ""));
const edition = computed(() => sweep.value?.edition ?? filters.value.edition ?? null);
const any = computed(() => Object.keys(route.query).length > 0);
const weights = [{ label: "Barrier", value: "barrier" }, { label: "Obstacle", value: "obstacle" }, { label: "Friction", value: "friction" }];
const outcomes = [{ label: "Is a fault", value: "failed" }, { label: "To look at", value: "cantTell" }];
const editions = [{ label: "Live", value: "live" }, { label: "Staging", value: "staging" }];
const checkOptions = computed(() => checks.value?.items.map((check) => ({ label: check.title, value: check.id })) ?? []);
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Findings</h1>
    <form class="card filters" aria-label="Filters" @submit.prevent="set('path', path)">
      <div><span id="f-edition">Edition</span><Select :model-value="edition" aria-labelledby="f-edition" :options="editions" option-label="label" option-value="value" placeholder="Newest sweep" @update:model-value="(value) => set('edition', value)" /></div>
      <div><span id="f-weight">Weight</span><Select :model-value="filters.weight ?? null" aria-labelledby="f-weight" :options="weights" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('weight', value)" /></div>
      <div><span id="f-outcome">Outcome</span><Select :model-value="filters.outcome ?? null" aria-labelledby="f-outcome" :options="outcomes" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('outcome', value)" /></div>
      <div class="wide"><span id="f-check">Check</span><Select :model-value="filters.check ?? null" aria-labelledby="f-check" :options="checkOptions" option-label="label" option-value="value" placeholder="All" show-clear filter @update:model-value="(value) => set('check', value)" /></div>
      <div><label for="f-path">Path begins with</label><InputText id="f-path" v-model="path" placeholder="/" @change="set('path', path)" /></div>
      <Button v-if="any" label="All findings" variant="text" @click="router.replace({ query: {} })" />
    </form>
    <AsyncState :loading="found.isPending.value" :error="found.error.value" what="the findings" @again="found.refetch()">
      <h2 class="only-aloud">What was found</h2>
      <p role="status">{{ total >= 10000 ? "10,000 findings or more" : count(total, "finding") }}<template v-if="sweep"> of <RouterLink :to="{ name: 'sweep', params: { site, sweep: sweep.id } }">sweep {{ sweep.id }}</RouterLink>, {{ sweep.edition }}</template><template v-if="filters.cause"> with one cause</template></p>
      <ol v-if="rows.length" class="plain-list card list"><li v-for="finding in rows" :key="finding.id"><FindingRow :finding="finding" :site="site" /></li></ol>
      <p v-else class="card">Nothing was found{{ any ? " with these filters" : "" }}.</p>
      <Button v-if="found.hasNextPage.value" label="Show more" variant="outlined" :loading="found.isFetchingNextPage.value" @click="found.fetchNextPage()" />
    </AsyncState>
  </div>
</template>

<style scoped>
.filters { display: flex; flex-wrap: wrap; gap: 16px; align-items: end; }
.filters > div { display: grid; gap: 4px; min-width: min(150px, 100%); } .filters .wide { min-width: min(300px, 100%); }
.filters :deep(.p-inputtext) { height: 42px; }
.filters > div > span, .filters label { font-size: 13px; font-weight: 600; }
.list { padding: 0; } .list li + li { border-top: 1px solid var(--line); }
</style>
