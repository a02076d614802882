<script setup lang="ts">
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data, ownerOf } from "@/api/client";
import { count, says, stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FixLine from "@/parts/FixLine.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import { session } from "@/session";

type State = "open" | "in_hand" | "handed_in" | "proven" | "returned" | "waived" | "void";
const props = defineProps<{ site: string }>();
const route = useRoute();
const router = useRouter();
const cache = useQueryClient();

const text = (name: string) => (typeof route.query[name] === "string" ? route.query[name] : undefined);
const owner = computed(() => text("owner") ?? "");
const LIVE: State[] = ["open", "in_hand", "returned", "handed_in"];
const filters = computed(() => ({
  state: text("state") === "all" ? undefined : text("state") ? [text("state") as State] : LIVE,
  weight: text("weight") as "barrier" | "obstacle" | "friction" | undefined,
  owner: owner.value.startsWith("p") ? Number(owner.value.slice(1)) : undefined,
  group: owner.value.startsWith("g") ? Number(owner.value.slice(1)) : undefined,
  unowned: owner.value === "none" || undefined,
  late: text("late") === "yes" || undefined,
  path: text("path"),
  sort: (text("sort") ?? "reach") as "reach" | "due" | "change",
}));
const set = (name: string, value: string | null | undefined) => router.replace({ query: { ...route.query, [name]: value || undefined } });

const found = useInfiniteQuery({
  queryKey: ["fixes", computed(() => props.site), filters],
  initialPageParam: undefined as string | undefined,
  queryFn: ({ pageParam }) => data(api.GET("/api/v1/sites/{slug}/fixes", {
    params: { path: { slug: props.site }, query: { ...filters.value, after: pageParam, limit: 50 } },
  })),
  getNextPageParam: (page) => (page.next ? new URL(page.next, location.origin).searchParams.get("after") ?? undefined : undefined),
});
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.items) ?? []);
const total = computed(() => found.data.value?.pages[0]?.total ?? 0);
const { data: figures } = useQuery({
  queryKey: ["fixes", "figures", computed(() => props.site)],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/fixes/figures", { params: { path: { slug: props.site } } })),
});

const isManager = computed(() => session.me?.role === "manager");
const chosen = ref<number[]>([]);
const to = ref("none");
const due = ref("");
const done = ref("");
const assign = useMutation({
  mutationFn: () => data(api.POST("/api/v1/sites/{slug}/fixes/moves", {
    params: { path: { slug: props.site } },
    body: { ids: chosen.value, move: "assign", owner: ownerOf(to.value), due_on: due.value || null, why: "", links: [] },
  })),
  onSuccess: async (result) => {
    const refused = result.items.filter((one) => one.code);
    done.value = `${count(result.items.length - refused.length, "fix", "fixes")} handed on.${refused.length ? ` Not: ${refused.map((one) => `${one.id} (${one.detail})`).join("; ")}` : ""}`;
    chosen.value = [];
    await cache.invalidateQueries({ queryKey: ["fixes"] });
    await nextTick();
    document.getElementById("moved")?.focus();
  },
});
const states = [{ label: "not closed", value: "" }, { label: "all", value: "all" }, ...[...LIVE, "proven", "waived", "void"].map((value) => ({ label: stateName(value), value }))];
const weights = [{ label: "Barrier", value: "barrier" }, { label: "Obstacle", value: "obstacle" }, { label: "Friction", value: "friction" }];
const sorts = [{ label: "Weight and reach", value: "reach" }, { label: "Due day", value: "due" }, { label: "Last change", value: "change" }];
const lates = [{ label: "Late", value: "yes" }];
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Fixes</h1>
    <section v-if="figures?.owners.length" class="card scrolls" aria-labelledby="load-title" tabindex="0">
      <div class="row spread"><h2 id="load-title">Who has what</h2><RouterLink :to="{ name: 'history', params: { site } }">Who did what</RouterLink></div>
      <table class="plain figures">
        <caption class="only-aloud">Fixes by owner and state</caption>
        <thead><tr><th scope="col">Owner</th><th scope="col">To mend</th><th scope="col">In hand</th><th scope="col">Still there</th><th scope="col">Handed in</th><th scope="col">Late</th><th scope="col">Proven</th><th scope="col">Waived</th><th scope="col">Days to proof</th></tr></thead>
        <tbody>
          <tr v-for="one in figures.owners" :key="`${one.owner_id} ${one.group_id}`">
            <th scope="row"><RouterLink :to="{ query: { ...route.query, owner: one.owner_id ? `p${one.owner_id}` : one.group_id ? `g${one.group_id}` : 'none' } }">{{ one.owner || "Nobody" }}</RouterLink></th>
            <td>{{ one.open }}</td><td>{{ one.in_hand }}</td><td>{{ one.returned }}</td><td>{{ one.handed_in }}</td><td>{{ one.late }}</td><td>{{ one.proven }}</td><td>{{ one.waived }}</td>
            <td>{{ one.median_days == null ? "–" : one.median_days < 1 ? "under 1" : one.median_days.toFixed(1) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <form class="card fields" aria-label="Filters" @submit.prevent>
      <div class="field"><span id="x-state">State</span><Select :model-value="text('state') ?? null" aria-labelledby="x-state" :options="states" option-label="label" option-value="value" placeholder="not closed" @update:model-value="(value) => set('state', value)" /></div>
      <div class="field"><span id="x-weight">Weight</span><Select :model-value="text('weight') ?? null" aria-labelledby="x-weight" :options="weights" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('weight', value)" /></div>
      <OwnerPick id="x-owner" :model-value="owner" label="Owner" nobody anybody @update:model-value="(value) => set('owner', value)" />
      <div class="field"><span id="x-late">Due</span><Select :model-value="text('late') ?? null" aria-labelledby="x-late" :options="lates" option-label="label" option-value="value" placeholder="Any day" show-clear @update:model-value="(value) => set('late', value)" /></div>
      <div class="field"><span id="x-sort">Sorted by</span><Select :model-value="filters.sort" aria-labelledby="x-sort" :options="sorts" option-label="label" option-value="value" @update:model-value="(value) => set('sort', value)" /></div>
      <Button v-if="Object.keys(route.query).length" label="All fixes" variant="text" @click="router.replace({ query: {} })" />
    </form>
    <AsyncState :loading="found.isPending.value" :error="found.error.value" what="the fixes" @again="found.refetch()">
      <form v-if="isManager && chosen.length" class="card fields" aria-label="Hand on" @submit.prevent="assign.mutate()">
        <OwnerPick id="x-to" v-model="to" :label="`Hand ${count(chosen.length, 'fix', 'fixes')} to`" nobody />
        <div class="field"><label for="x-due">By</label><InputText id="x-due" v-model="due" type="date" /></div>
        <Button type="submit" label="Hand on" :loading="assign.isPending.value" />
      </form>
      <p id="moved" role="status" tabindex="-1">{{ done || (total >= 10000 ? "10,000 fixes or more" : count(total, "fix", "fixes")) }}</p>
      <Message v-if="assign.error.value" severity="error" role="alert">{{ says(assign.error.value) }}</Message>
      <label v-if="isManager && rows.length" class="all"><input type="checkbox" :checked="chosen.length === rows.length" @change="chosen = chosen.length === rows.length ? [] : rows.map((fix) => fix.id)"> Choose all that are shown</label>
      <ol v-if="rows.length" class="plain-list card list">
        <li v-for="fix in rows" :key="fix.id"><input v-if="isManager" v-model="chosen" type="checkbox" :value="fix.id" :aria-label="`Choose fix ${fix.id}: ${fix.says}`"><FixLine :fix="fix" with-page with-owner /></li>
      </ol>
      <p v-else class="card">No fix{{ Object.keys(route.query).length ? " with these filters" : ". Hand causes out to make some" }}.</p>
      <Button v-if="found.hasNextPage.value" label="Show more" variant="outlined" :loading="found.isFetchingNextPage.value" @click="found.fetchNextPage()" />
    </AsyncState>
  </div>
</template>

<style scoped>
.all { display: flex; gap: 10px; align-items: center; padding-left: 19px; }
.list { padding: 0; } .list li { display: flex; gap: 14px; padding: 10px 18px; } .list li + li { border-top: 1px solid var(--line); } .list li > :last-child { flex: 1; }
.figures td { font-variant-numeric: tabular-nums; }
</style>
