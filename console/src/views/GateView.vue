<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Clearance } from "@/api/client";
import { count, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import ClearanceRow from "@/parts/ClearanceRow.vue";
import FilterBar from "@/parts/FilterBar.vue";
import GateRules from "@/parts/GateRules.vue";
import LongList from "@/parts/LongList.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string }>();
const { text, set } = useAddress();
const filters = computed(() => ({
  decision: (text("decision") as Clearance["decision"]) ?? undefined,
  overruled: text("overruled") === "yes" ? true : undefined,
}));
const { rows, more, hasMore, isPending, error, refetch } = useListing<Clearance>(
  () => ["clearances", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/clearances", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 100, ...after } },
      }),
    ),
);
useRowKeys("clearance");
const DECISIONS = [
  { label: "Held", value: "held" },
  { label: "Clear", value: "clear" },
  { label: "Clear with waivers", value: "clear with waivers" },
];
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <div class="titled">
        <h1 tabindex="-1">Gate</h1>
        <TermHelp term="gate" />
      </div>
      <RouterLink :to="{ name: 'ask', params: { site } }"
        >Ask for a page, a draft, a release</RouterLink
      >
    </div>
    <FilterBar>
      <ChoiceField
        :model-value="filters.decision"
        label="Answer"
        :options="DECISIONS"
        @update:model-value="(decision) => set({ decision })"
      />
      <ChoiceField
        :model-value="text('overruled')"
        label="Overruled"
        :options="[{ label: 'Overruled', value: 'yes' }]"
        @update:model-value="(overruled) => set({ overruled })"
      />
    </FilterBar>
    <AsyncState :loading="isPending" :error="error" what="the clearances" @again="refetch()">
      <p role="status">
        {{ count(rows.length, "clearance") }}{{ hasMore ? " and more" : "" }}, the newest first
      </p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(one) => one.id"
        :has-more="hasMore"
        label="Clearances, the newest first"
        @more="more"
      >
        <template #default="{ row }"
          ><ClearanceRow :site="site" :number="row.id" :row="row">
            {{ row.asked_by }}
            <p class="soft small">
              {{ time(row.asked_at) }}{{ row.used_at ? " · published" : ""
              }}{{ row.overruled_by ? ` · overruled by ${row.overruled_by}` : "" }}
            </p>
          </ClearanceRow></template
        >
      </LongList>
      <p v-else class="card">
        Nothing was asked{{
          text("decision")
            ? " with this answer"
            : " yet. The CMS asks before it publishes; you can ask too"
        }}.
      </p>
    </AsyncState>
    <GateRules :site="site" />
  </div>
</template>
