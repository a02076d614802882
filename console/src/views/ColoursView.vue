<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data } from "@/api/client";
import { type Environment } from "@/choices";
import { contrast, isColour, shownRatio } from "@/contrast";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import { useAddress } from "@/use/address";

/** All colour pairs of the site; another colour tried in place of one shows which pairs would pass. */
const props = defineProps<{ site: string }>();
const { text, number, set } = useAddress();
const query = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
}));
const {
  data: pairs,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["colours", computed(() => [props.site, query.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/colours", {
        params: { path: { slug: props.site }, query: query.value },
      }),
    ),
});
const colours = computed(() => {
  const uses = new Map<string, number>();
  for (const pair of pairs.value?.items ?? [])
    for (const one of [pair.text, pair.background]) uses.set(one, (uses.get(one) ?? 0) + pair.uses);
  return [...uses]
    .sort((a, b) => b[1] - a[1])
    .map(([colour]) => ({ label: colour, value: colour }));
});
const from = computed(() => text("from"));
const to = computed(() => (text("to") && isColour(text("to")!) ? text("to")! : undefined));
const trying = computed(() => Boolean(from.value && to.value));
const now = (colour: string) => (trying.value && colour === from.value ? to.value! : colour);
const rows = computed(() =>
  (pairs.value?.items ?? []).map((pair) => {
    const touched = trying.value && (pair.text === from.value || pair.background === from.value);
    const ratio = touched ? contrast(now(pair.text), now(pair.background)) : pair.ratio;
    return {
      ...pair,
      shownText: now(pair.text),
      shownBackground: now(pair.background),
      touched,
      now: ratio,
      would: touched ? ratio >= pair.required : pair.passes,
    };
  }),
);
const failing = computed(() => rows.value.filter((row) => !row.would));
const outcome = computed(() => {
  const touched = rows.value.filter((row) => row.touched);
  return `${count(touched.length, "pair")} would change: ${touched.filter((row) => row.would && !row.passes).length} would pass that fail now, ${touched.filter((row) => !row.would && row.passes).length} would fail that pass now.`;
});
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Colours</h1>
    <p class="soft">Every pair of text and background on the site, those that fail first.</p>
    <FilterBar label="Filters and trial">
      <EnvironmentField
        :model-value="query.environment"
        :site="site"
        all="Newest sweep"
        @update:model-value="(environment) => set({ environment, sweep: null })"
      />
      <ChoiceField
        :model-value="from"
        label="Try, in place of"
        :options="colours"
        all="Choose a colour"
        searchable
        @update:model-value="(one) => set({ from: one, to: one })"
      />
      <div v-if="from" class="field">
        <label for="k-to">this colour</label
        ><span class="row"
          ><input
            type="color"
            :value="to ?? from"
            aria-label="Pick the colour to try"
            @input="set({ to: ($event.target as HTMLInputElement).value })" /><InputText
            id="k-to"
            :model-value="text('to') ?? from"
            maxlength="7"
            size="small"
            @update:model-value="(value) => set({ to: value ?? null })"
        /></span>
      </div>
      <Button v-if="from" label="As it is" variant="text" @click="set({ from: null, to: null })" />
    </FilterBar>
    <AsyncState :loading="isPending" :error="error" what="the colours" @again="refetch()">
      <p role="status">
        {{ count(rows.length, "pair") }}, {{ failing.length }} {{ trying ? "would fail" : "fail" }}.
        <template v-if="trying">{{ outcome }}</template>
      </p>
      <ul v-if="rows.length" class="plain-list pairs">
        <li
          v-for="row in rows"
          :key="`${row.text} ${row.background}`"
          class="card pair"
          :class="{ touched: row.touched }"
        >
          <span class="sample" aria-hidden="true"
            ><span :style="{ background: row.shownText }" /><span
              :style="{ background: row.shownBackground }"
          /></span>
          <div>
            <strong :class="row.would ? 'good' : 'bad'"
              >{{ shownRatio(row.now) }}:1,
              {{ row.would ? "passes" : `fails (${row.required}:1 wanted)` }}</strong
            ><span v-if="row.touched" class="soft small"> was {{ row.ratio.toFixed(2) }}:1</span>
            <p class="small">
              <code>{{ row.shownText }}</code> on <code>{{ row.shownBackground }}</code>
            </p>
            <p class="small">
              <RouterLink
                :to="{
                  name: 'page',
                  params: { site },
                  query: { path: row.first_path, as: 'colours' },
                }"
                :aria-label="`${count(row.uses, 'use')} on ${count(row.pages, 'page')} of ${row.text} on ${row.background}`"
                >{{ count(row.uses, "use") }} on {{ count(row.pages, "page") }}</RouterLink
              >
            </p>
          </div>
        </li>
      </ul>
      <p v-else class="card">No pairs are known. A sweep in the browser finds them.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
.pairs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(330px, 100%), 1fr));
  gap: 12px;
}
.pair {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr);
  gap: 14px;
  padding: 12px 14px;
}
.touched {
  border-color: var(--plum);
  border-width: 2px;
}
.sample {
  display: grid;
  grid-template-columns: 1fr 1fr;
  height: 62px;
  border: 1px solid var(--edge);
  border-radius: 8px;
  overflow: hidden;
}
.good {
  color: var(--good);
}
.bad {
  color: var(--barrier-ink);
}
input[type="color"] {
  width: 46px;
  height: 42px;
  padding: 2px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--paper);
}
</style>
