<script setup lang="ts">
import { useInfiniteQuery, useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data, ownerOf, uniqueKey, type Cause } from "@/api/client";
import { count, inDays, says, stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";

type Weight = "barrier" | "obstacle" | "friction";
const props = defineProps<{ site: string }>();
const route = useRoute();
const router = useRouter();
const cache = useQueryClient();

const text = (name: string) => (typeof route.query[name] === "string" ? route.query[name] : undefined);
const filters = computed(() => ({
  edition: text("edition") as "live" | "staging" | undefined,
  weight: text("weight") as Weight | undefined,
  outcome: text("outcome") as "failed" | "cantTell" | undefined,
  by_template: text("printed") === "template" ? true : undefined,
  handed_out: text("handed") === "no" ? false : text("handed") === "yes" ? true : undefined,
}));
const set = (name: string, value: string | null | undefined) => router.replace({ query: { ...route.query, [name]: value || undefined } });

const found = useInfiniteQuery({
  queryKey: ["causes", computed(() => props.site), filters],
  initialPageParam: 0,
  queryFn: ({ pageParam }) => data(api.GET("/api/v1/sites/{slug}/causes", {
    params: { path: { slug: props.site }, query: { ...filters.value, after: pageParam, limit: 50 } },
  })),
  getNextPageParam: (page) => (page.next ? page.items.at(-1)?.position : undefined),
});
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.items) ?? []);
const total = computed(() => found.data.value?.pages[0]?.total ?? 0);
const mayHandOut = computed(() => session.me?.role === "manager");

const chosen = ref<string[]>([]);
const free = computed(() => rows.value.filter((cause) => !cause.fix_id).map((cause) => cause.key));
const owner = ref("part");
const due = ref(inDays(14));
const why = ref("");
const done = ref("");
const handOut = useMutation({
  mutationFn: () => data(api.POST("/api/v1/sites/{slug}/fixes", {
    params: { path: { slug: props.site }, header: { "Idempotency-Key": uniqueKey() } },
    body: { causes: chosen.value, findings: [], sweep: rows.value[0]!.sweep_id, owner: ownerOf(owner.value), due_on: due.value || null, why: why.value },
  })),
  onSuccess: async (made) => {
    const owners = [...new Set(made.items.map((fix) => fix.owner ?? fix.group ?? "nobody"))];
    done.value = `${count(made.items.length, "cause")} handed out to ${owners.join(", ")}.`;
    chosen.value = [];
    await Promise.all([cache.invalidateQueries({ queryKey: ["causes"] }), cache.invalidateQueries({ queryKey: ["fixes"] })]);
    await nextTick();
    document.getElementById("handed")?.focus();
  },
});

const reach = (cause: Cause) => (cause.pages === cause.places ? count(cause.pages, "page") : `${count(cause.places, "place")} on ${count(cause.pages, "page")}`);
const editions = [{ label: "Live", value: "live" }, { label: "Staging", value: "staging" }];
const weights = [{ label: "Barrier", value: "barrier" }, { label: "Obstacle", value: "obstacle" }, { label: "Friction", value: "friction" }];
const outcomes = [{ label: "Is a fault", value: "failed" }, { label: "To look at", value: "cantTell" }];
const handed = [{ label: "Not handed out", value: "no" }, { label: "Handed out", value: "yes" }];
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Causes</h1>
    <form class="card fields" aria-label="Filters" @submit.prevent>
      <div class="field"><span id="c-edition">Edition</span><Select :model-value="filters.edition ?? null" aria-labelledby="c-edition" :options="editions" option-label="label" option-value="value" placeholder="Newest sweep" show-clear @update:model-value="(value) => set('edition', value)" /></div>
      <div class="field"><span id="c-weight">Weight</span><Select :model-value="filters.weight ?? null" aria-labelledby="c-weight" :options="weights" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('weight', value)" /></div>
      <div class="field"><span id="c-outcome">Outcome</span><Select :model-value="filters.outcome ?? null" aria-labelledby="c-outcome" :options="outcomes" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('outcome', value)" /></div>
      <div class="field"><span id="c-handed">Handed out</span><Select :model-value="text('handed') ?? null" aria-labelledby="c-handed" :options="handed" option-label="label" option-value="value" placeholder="All" show-clear @update:model-value="(value) => set('handed', value)" /></div>
    </form>
    <AsyncState :loading="found.isPending.value" :error="found.error.value" what="the causes" @again="found.refetch()">
      <form v-if="mayHandOut" class="card fields" aria-label="Hand out" @submit.prevent="handOut.mutate()">
        <OwnerPick id="c-owner" v-model="owner" label="Hand out to" by-part />
        <div class="field"><label for="c-due">By</label><InputText id="c-due" v-model="due" type="date" /></div>
        <div class="field grow"><label for="c-why">Note</label><InputText id="c-why" v-model="why" maxlength="4000" /></div>
        <Button type="submit" :label="chosen.length ? `Hand out ${count(chosen.length, 'cause')}` : 'Hand out'" :disabled="!chosen.length" :loading="handOut.isPending.value" />
      </form>
      <p id="handed" role="status" tabindex="-1">{{ done || `${count(total, "cause")}, the widest reach first` }}<template v-if="done"> <RouterLink :to="{ name: 'fixes', params: { site } }">See the fixes</RouterLink></template></p>
      <Message v-if="handOut.error.value" severity="error" role="alert">{{ says(handOut.error.value) }}</Message>
      <h2 class="only-aloud">What there is to mend</h2>
      <div v-if="rows.length" class="card scrolls" role="region" aria-label="List of causes" tabindex="0">
        <table class="plain">
          <caption class="only-aloud">Causes, the widest reach first</caption>
          <thead><tr><td v-if="mayHandOut"><input type="checkbox" aria-label="Choose all that are shown and not handed out" :checked="free.length > 0 && chosen.length === free.length" @change="chosen = chosen.length === free.length ? [] : free"></td><th scope="col">Weight</th><th scope="col">Cause</th><th scope="col">Reach</th><th scope="col">Where</th><th scope="col">Fix</th></tr></thead>
          <tbody>
            <tr v-for="cause in rows" :key="cause.key">
              <td v-if="mayHandOut"><input v-model="chosen" type="checkbox" :value="cause.key" :aria-label="`Choose: ${cause.says} ${cause.path}, ${cause.selector}`"></td>
              <td><WeightMark :weight="cause.weight" :outcome="cause.outcome" /></td>
              <td><RouterLink :to="{ name: 'finding', params: { site, finding: cause.best } }" :aria-label="`${cause.says} ${cause.path}, ${cause.selector}`">{{ cause.says }}</RouterLink>
                <p class="soft small">{{ cause.check }} · {{ cause.path }}</p></td>
              <td><RouterLink :to="{ name: 'findings', params: { site }, query: { sweep: String(cause.sweep_id), cause: cause.key } }" :aria-label="`${reach(cause)}: ${cause.says} ${cause.path}, ${cause.selector}`">{{ reach(cause) }}</RouterLink><span v-if="cause.waived" class="soft">, {{ cause.waived }} waived</span></td>
              <td>{{ cause.region }}{{ cause.by_template ? ", by the template" : "" }}</td>
              <td><RouterLink v-if="cause.fix_id" :to="{ name: 'fix', params: { site, fix: cause.fix_id } }" :aria-label="`Fix ${cause.fix_id}: ${cause.fix_owner ?? 'nobody'}, ${stateName(cause.fix_state!)}`">{{ cause.fix_owner ?? "nobody" }}, {{ stateName(cause.fix_state!) }}</RouterLink><span v-else class="soft">not handed out</span></td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else class="card">No cause{{ Object.keys(route.query).length ? " with these filters" : "" }}.</p>
      <Button v-if="found.hasNextPage.value" label="Show more" variant="outlined" :loading="found.isFetchingNextPage.value" @click="found.fetchNextPage()" />
    </AsyncState>
  </div>
</template>

<style scoped>
.small { font-size: 13px; margin: 2px 0 0; } .grow { flex: 1; }
</style>
