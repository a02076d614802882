<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Finding } from "@/api/client";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import FindingRow from "@/parts/FindingRow.vue";
import LongList from "@/parts/LongList.vue";
import SweepChanges from "@/parts/SweepChanges.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

/** Two sweeps of a site against each other, of one environment or of two: what is new, gone, came back, still there. */
defineProps<{ site: string }>();
const { text, number } = useAddress();
const sweep = computed(() => number("sweep") ?? 0);
const against = computed(() => number("against"));
const KINDS = [
  ["new", "New"],
  ["reopened", "Came back"],
  ["gone", "Gone"],
  ["still", "Still there"],
] as const;
const kind = computed(() => KINDS.find(([name]) => name === text("kind"))?.[0] ?? "new");
const { rows, more, hasMore, isPending, error, refetch } = useListing<Finding>(
  () => ["changed", sweep.value, against.value, kind.value],
  (after) =>
    data(
      api.GET("/api/v1/sweeps/{sweep_id}/changes/findings", {
        params: {
          path: { sweep_id: sweep.value },
          query: { kind: kind.value, against: against.value, limit: 100, ...after },
        },
      }),
    ),
);
useRowKeys("finding");
</script>

<template>
  <div class="stack">
    <CrumbTrail
      :site="site"
      :steps="[
        { says: 'Sweeps', to: { name: 'sweeps', params: { site } } },
        { says: `Sweep ${sweep}`, to: { name: 'sweep', params: { site, sweep } } },
        { says: `against sweep ${against ?? 'before'}` },
      ]"
    />
    <h1 tabindex="-1">Sweep {{ sweep }} against sweep {{ against ?? "before" }}</h1>
    <SweepChanges :sweep="sweep" :against="against" />
    <nav class="tabs" aria-label="Findings that are">
      <RouterLink
        v-for="[name, says] in KINDS"
        :key="name"
        :to="{ query: { sweep, against, kind: name } }"
        :aria-current="name === kind ? 'page' : undefined"
        replace
        >{{ says }}</RouterLink
      >
    </nav>
    <AsyncState :loading="isPending" :error="error" what="what changed" @again="refetch()">
      <p role="status">{{ count(rows.length, "finding") }}{{ hasMore ? " and more" : "" }}</p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(row) => row.id"
        :has-more="hasMore"
        label="Findings of this kind"
        @more="more"
        ><template #default="{ row }"><FindingRow :finding="row" :site="site" /></template
      ></LongList>
      <p v-else class="card">None.</p>
    </AsyncState>
  </div>
</template>
