<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watchEffect } from "vue";
import { RouterLink, useRouter } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data, uniqueKey } from "@/api/client";
import { count, says, stateName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import EditionFigures from "@/parts/EditionFigures.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";

const props = defineProps<{ site: string }>();
const router = useRouter();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const { data: shown, isPending, error, refetch } = useQuery({
  queryKey: ["site", path], queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: { path: path.value } })),
});
const { data: sweeps } = useQuery({
  queryKey: ["sweeps", path], queryFn: () => data(api.GET("/api/v1/sites/{slug}/sweeps", { params: { path: path.value, query: { limit: 8 } } })),
});
const { data: widest } = useQuery({
  queryKey: ["causes", path, "widest"], queryFn: () => data(api.GET("/api/v1/sites/{slug}/causes", { params: { path: path.value, query: { limit: 5, outcome: "failed" } } })),
});

const edition = ref<"live" | "staging">("live");
const editions = computed(() => (shown.value?.staging_address ? ["live", "staging"] : ["live"]));
const start = useMutation({
  mutationFn: () => data(api.POST("/api/v1/sites/{slug}/sweeps", {
    params: { path: path.value, header: { "Idempotency-Key": uniqueKey() } }, body: { edition: edition.value, lens: "rendered", section: "/", changed: false, fresh: false, paths: [] },
  })),
  onSuccess: async (sweep) => {
    await cache.invalidateQueries({ queryKey: ["sweeps"] });
    await router.push({ name: "sweep", params: { site: props.site, sweep: sweep.id } });
  },
});
const mayStart = computed(() => session.me?.role === "manager");
watchEffect(() => { if (shown.value) document.head.querySelector("title")!.textContent = `${shown.value.name}, overview – Plum Rake`; });
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the site" @again="refetch()">
    <div v-if="shown" class="stack">
      <div class="row spread">
        <div>
          <h1 tabindex="-1">{{ shown.name }}</h1>
          <p class="soft"><a :href="shown.live_address" rel="noreferrer">The live site</a>
            <template v-if="shown.staging_address"> and <a :href="shown.staging_address" rel="noreferrer">the one being made ready</a></template>
          </p>
        </div>
        <form v-if="mayStart" class="row" @submit.prevent="start.mutate()">
          <span id="edition-label">Edition</span>
          <Select v-model="edition" input-id="edition" aria-labelledby="edition-label" :options="editions" />
          <Button type="submit" label="Start a sweep" :loading="start.isPending.value" />
        </form>
      </div>
      <Message v-if="start.error.value" severity="error" role="alert">{{ says(start.error.value) }}</Message>
      <p v-if="!shown.figures?.length" class="card">This site was never read to the end. Start a sweep to see where it stands.</p>
      <EditionFigures v-for="figures in shown.figures" :key="figures.edition" :site="site" :figures="figures" />
      <section v-if="widest?.items.length" class="card" aria-labelledby="widest-title">
        <div class="row spread"><h2 id="widest-title">The widest causes</h2><RouterLink :to="{ name: 'causes', params: { site } }">All causes, to hand out</RouterLink></div>
        <ul class="plain-list widest"><li v-for="cause in widest.items" :key="cause.key"><WeightMark :weight="cause.weight" :outcome="cause.outcome" />
          <span><RouterLink :to="{ name: 'finding', params: { site, finding: cause.best } }" :aria-label="`${cause.says} ${cause.path}, ${cause.selector}`">{{ cause.says }}</RouterLink>
          <br><span class="soft">{{ count(cause.pages, "page") }}, {{ cause.fix_id ? `${cause.fix_owner ?? "nobody"}, ${stateName(cause.fix_state!)}` : "not handed out" }}</span></span></li></ul>
      </section>
      <section class="card" aria-labelledby="sweeps-title">
        <h2 id="sweeps-title">Sweeps</h2>
        <table v-if="sweeps?.items.length" aria-labelledby="sweeps-title">
          <thead><tr><th scope="col">Number</th><th scope="col">Begun</th><th scope="col">Edition</th><th scope="col">State</th><th scope="col">Pages ready</th></tr></thead>
          <tbody>
            <tr v-for="sweep in sweeps.items" :key="sweep.id">
              <td><RouterLink :to="{ name: 'sweep', params: { site, sweep: sweep.id } }">Sweep {{ sweep.id }}</RouterLink></td>
              <td>{{ time(sweep.created_at) }}</td><td>{{ sweep.edition }}</td><td>{{ sweep.state }}</td>
              <td>{{ sweep.ready }} of {{ sweep.total }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft">None yet.</p>
      </section>
      <p class="soft">Checks by machine find only part of the barriers; the rest needs people's eyes and ears.</p>
    </div>
  </AsyncState>
</template>

<style scoped>
.widest li { display: grid; grid-template-columns: minmax(6.2em, max-content) minmax(0, 1fr); gap: 14px; padding: 5px 0; justify-items: start; }
table { border-collapse: collapse; width: 100%; }
th, td { text-align: left; padding: 6px 16px 6px 0; border-bottom: 1px solid var(--line); }
</style>
