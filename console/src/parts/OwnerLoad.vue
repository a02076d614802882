<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";

/** Who has how many fixes, by state; every owner leads to their fixes. */
const props = defineProps<{ site: string }>();
const { data: figures } = useQuery({
  queryKey: ["fixes", "figures", computed(() => props.site)],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/fixes/figures", { params: { path: { slug: props.site } } })),
});
type Owner = NonNullable<typeof figures.value>["owners"][number];
const key = (one: Owner) => (one.owner_id ? `p${one.owner_id}` : one.group_id ? `g${one.group_id}` : "none");
const COLUMNS = [["open", "To mend", "open"], ["in_hand", "In hand", "in_hand"], ["returned", "Still there", "returned"], ["handed_in", "Handed in", "handed_in"], ["late", "Late", ""], ["proven", "Proven", "proven"], ["waived", "Waived", "waived"]] as const;
const listed = (one: Owner, state: string) => ({ name: "fixes", params: { site: props.site }, query: { owner: key(one), ...(state ? { state } : { late: "yes" }) } });
</script>

<template>
  <section v-if="figures?.owners.length" class="card" aria-labelledby="load-title">
    <div class="row spread"><h2 id="load-title">Who has what</h2><RouterLink :to="{ name: 'history', params: { site } }">Who did what</RouterLink></div>
    <div class="scrolls" role="region" aria-label="Fixes by owner" tabindex="0"><table class="plain figure">
      <caption class="only-aloud">Fixes by owner and state</caption>
      <thead><tr><th scope="col">Owner</th><th v-for="[, says] in COLUMNS" :key="says" scope="col">{{ says }}</th><th scope="col">Days to proof</th></tr></thead>
      <tbody>
        <tr v-for="one in figures.owners" :key="key(one)">
          <th scope="row"><RouterLink :to="{ name: 'fixes', params: { site }, query: { owner: key(one) } }">{{ one.owner || "Nobody" }}</RouterLink></th>
          <td v-for="[field, says, state] in COLUMNS" :key="field"><RouterLink v-if="one[field]" :to="listed(one, state)" :aria-label="`${one[field]}, ${says}, ${one.owner || 'nobody'}`" :class="{ late: field === 'late' }">{{ one[field] }}</RouterLink><template v-else>0</template></td>
          <td>{{ one.median_days == null ? "–" : one.median_days < 1 ? "under 1" : one.median_days.toFixed(1) }}</td>
        </tr>
      </tbody>
    </table></div>
  </section>
</template>

<style scoped>
.late { color: var(--barrier-ink); font-weight: 600; }
</style>
