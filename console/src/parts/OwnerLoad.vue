<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";
import { capital, stateName } from "@/format";

/** Who has how many fixes, by state; every owner leads to their fixes. */
const props = defineProps<{ site: string }>();
const { data: figures } = useQuery({
  queryKey: ["fixes", "figures", computed(() => props.site)],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/fixes/figures", { params: { path: { slug: props.site } } })),
});
type Owner = NonNullable<typeof figures.value>["owners"][number];
const key = (one: Owner) =>
  one.owner_id ? `p${one.owner_id}` : one.group_id ? `g${one.group_id}` : "none";
const COLUMNS = ["open", "in_hand", "reopened", "handed_in", "late", "proven", "waived"] as const;
const heading = (column: string) => capital(stateName(column));
const listed = (one: Owner, column: string) => ({
  name: "fixes",
  params: { site: props.site },
  query: { owner: key(one), ...(column === "late" ? { late: "yes" } : { state: column }) },
});
</script>

<template>
  <section v-if="figures?.owners.length" class="card" aria-labelledby="load-title">
    <div class="row spread">
      <h2 id="load-title">Who has what</h2>
      <RouterLink :to="{ name: 'history', params: { site } }">Who did what</RouterLink>
    </div>
    <div class="scrolls" role="region" aria-label="Fixes by owner" tabindex="0">
      <table class="plain figure">
        <caption class="only-aloud">
          Fixes by owner and state
        </caption>
        <thead>
          <tr>
            <th scope="col">Owner</th>
            <th v-for="column in COLUMNS" :key="column" scope="col">{{ heading(column) }}</th>
            <th scope="col">Days to proof</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in figures.owners" :key="key(one)">
            <th scope="row">
              <RouterLink :to="{ name: 'fixes', params: { site }, query: { owner: key(one) } }">{{
                one.owner || "Nobody"
              }}</RouterLink>
            </th>
            <td v-for="column in COLUMNS" :key="column">
              <RouterLink
                v-if="one[column]"
                :to="listed(one, column)"
                :aria-label="`${one[column]}, ${heading(column)}, ${one.owner || 'nobody'}`"
                :class="{ late: column === 'late' }"
                >{{ one[column] }}</RouterLink><template v-else>0</template>
            </td>
            <td>
              {{
                one.median_days == null
                  ? "–"
                  : one.median_days < 1
                    ? "under 1"
                    : one.median_days.toFixed(1)
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.late {
  color: var(--barrier-ink);
  font-weight: 600;
}
</style>
