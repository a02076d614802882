<script setup lang="ts">
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import { api, data, type Cause } from "@/api/client";
import type { Environment, Outcome, Weight, Zone } from "@/choices";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import BulkCauses from "@/parts/BulkCauses.vue";
import CauseRow from "@/parts/CauseRow.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import FaultFields from "@/parts/FaultFields.vue";
import LongList from "@/parts/LongList.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useChosenKey, useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string }>();
const { text, number, set, any, clear } = useAddress();
const filters = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
  weight: text("weight") as Weight | undefined,
  outcome: text("outcome") as Outcome | undefined,
  zone: text("zone") as Zone | undefined,
  check: text("check"),
  holding: text("holds") === "yes" ? true : undefined,
  by_template:
    text("comes-from") === "template" ? true : text("comes-from") === "content" ? false : undefined,
  sort: (text("sort") ?? "weight") as "reach" | "weight" | "newest",
  handed_out: text("handed") === "no" ? false : text("handed") === "yes" ? true : undefined,
}));
const { rows, total, more, hasMore, isPending, error, refetch } = useListing<Cause>(
  () => ["causes", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/causes", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 100, ...after } },
      }),
    ),
);
const mayDecide = computed(() => session.me?.role === "manager");

const keys = computed(() => text("chosen")?.split(".") ?? []);
const chosen = computed(() => rows.value.filter((cause) => keys.value.includes(cause.key)));
const free = computed(() => rows.value.filter((cause) => !cause.fix_id).slice(0, 100));
const choose = (wanted: string[]) => set({ chosen: wanted.join(".") });
const turn = (key: string, on: boolean) =>
  choose(on ? [...keys.value, key] : keys.value.filter((one) => one !== key));
const done = ref("");
function finish(says: string) {
  done.value = says;
  void choose([]);
}
useRowKeys("cause");
useChosenKey();
const handed = [
  { label: "Not handed out", value: "no" },
  { label: "Handed out", value: "yes" },
];
const sorts = [
  { label: "Heaviest", value: "weight" },
  { label: "Widest reach", value: "reach" },
  { label: "Newest", value: "newest" },
];
const sorted = computed(
  () =>
    ({
      reach: "the widest reach first",
      weight: "the heaviest first, of these the widest",
      newest: "the newest first",
    })[filters.value.sort],
);
const sources = [
  { label: "Template", value: "template" },
  { label: "Content", value: "content" },
];
</script>

<template>
  <div class="stack">
    <div class="titled">
      <h1 tabindex="-1">Causes</h1>
      <TermHelp term="cause" />
    </div>
    <FilterBar>
      <FaultFields
        :site="site"
        :environment="filters.environment"
        :weight="filters.weight"
        :outcome="filters.outcome"
        :zone="filters.zone"
        :check="filters.check"
        @set="set"
      />
      <ChoiceField
        :model-value="text('comes-from')"
        label="Comes from"
        :options="sources"
        @update:model-value="(one) => set({ 'comes-from': one })"
      />
      <ChoiceField
        :model-value="text('holds')"
        label="Holds pages"
        :options="[{ label: 'Yes', value: 'yes' }]"
        @update:model-value="(one) => set({ holds: one })"
      />
      <ChoiceField
        :model-value="text('handed')"
        label="Handed out"
        :options="handed"
        @update:model-value="(one) => set({ handed: one })"
      />
      <ChoiceField
        :model-value="filters.sort"
        label="Sorted by"
        :options="sorts"
        :all="null"
        @update:model-value="(sort) => set({ sort })"
      />
      <Button v-if="any" label="All causes" variant="text" @click="clear()" />
    </FilterBar>
    <SavedFilters :site="site" view="causes" />
    <AsyncState :loading="isPending" :error="error" what="the causes" @again="refetch()">
      <BulkCauses v-if="mayDecide && rows.length" :site="site" :chosen="chosen" @done="finish" />
      <p id="handed" role="status" tabindex="-1">
        {{ done || `${count(total, "cause")}, ${sorted}`
        }}<template v-if="done">
          <RouterLink :to="{ name: 'fixes', params: { site } }">See the fixes</RouterLink></template
        >
      </p>
      <h2 class="only-aloud">What there is to mend</h2>
      <label v-if="mayDecide && free.length" class="row all"
        ><input
          type="checkbox"
          :checked="keys.length > 0 && keys.length >= free.length"
          @change="choose(keys.length ? [] : free.map((cause) => cause.key))"
        />
        Choose all that are shown and not handed out</label
      >
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(cause) => cause.key"
        :has-more="hasMore"
        :label="`Causes, ${sorted}`"
        :height="78"
        @more="more"
      >
        <template #default="{ row }"
          ><CauseRow
            :site="site"
            :cause="row"
            :choosable="mayDecide"
            :model-value="keys.includes(row.key)"
            @update:model-value="(on) => turn(row.key, on)"
        /></template>
      </LongList>
      <p v-else class="card">No cause{{ any ? " with these filters" : ". A sweep finds them" }}.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
.all {
  padding-left: 18px;
}
</style>
