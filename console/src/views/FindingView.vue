<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import { count, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ContrastFacts from "@/parts/ContrastFacts.vue";
import FactValue from "@/parts/FactValue.vue";
import FindingDecision from "@/parts/FindingDecision.vue";
import HelpText from "@/parts/HelpText.vue";
import MarkedPicture from "@/parts/MarkedPicture.vue";
import MendLine from "@/parts/MendLine.vue";
import WeightMark from "@/parts/WeightMark.vue";

const props = defineProps<{ site: string; finding: string }>();
const id = computed(() => Number(props.finding));
const { data: shown, isPending, error, refetch } = useQuery({
  queryKey: ["finding", id], queryFn: () => data(api.GET("/api/v1/findings/{finding_id}", { params: { path: { finding_id: id.value } } })),
});
const check = computed(() => shown.value?.check.split("/") ?? []);
const { data: help } = useQuery({
  queryKey: ["check", computed(() => shown.value?.check)],
  queryFn: () => data(api.GET("/api/v1/checks/{area}/{slug}", { params: { path: { area: check.value[0]!, slug: check.value[1]! } } })),
  enabled: computed(() => check.value.length === 2),
  staleTime: Infinity,
});
const facts = computed(() => Object.entries(shown.value?.facts ?? {}).filter(([, value]) => value !== null && value !== ""));
const isContrast = computed(() => Array.isArray(shown.value?.facts.proposals));

const copied = ref("");
async function copyLink() {
  try {
    await navigator.clipboard.writeText(location.href);
    copied.value = "The link is copied.";
  } catch {
    copied.value = "The browser does not let pages copy here; take the address from its address bar.";
  }
}
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the finding" @again="refetch()">
    <div v-if="shown" class="stack">
      <nav aria-label="Where this is" class="soft">
        <RouterLink :to="{ name: 'site', params: { site } }">{{ shown.site_name }}</RouterLink> ·
        <RouterLink :to="{ name: 'findings', params: { site }, query: { sweep: String(shown.sweep_id), path: shown.path } }">{{ shown.path }}</RouterLink>
      </nav>
      <div class="row spread head">
        <div>
          <h1 tabindex="-1">{{ shown.says }}</h1>
          <p class="row"><WeightMark :weight="shown.weight" :outcome="shown.outcome" /><span>{{ help?.title ?? shown.check }} · {{ shown.criteria.length ? `WCAG ${shown.criteria.join(", ")}` : "good practice" }}</span>
            <RouterLink v-if="shown.same_cause_places > 1" :to="{ name: 'findings', params: { site }, query: { sweep: String(shown.sweep_id), cause: shown.cause } }">
              same cause in {{ count(shown.same_cause_places, "place") }} on {{ count(shown.same_cause_pages, "page") }}
            </RouterLink></p>
        </div>
        <div class="row"><span role="status" class="soft">{{ copied }}</span><Button label="Copy the link" variant="outlined" @click="copyLink" /></div>
      </div>
      <div class="columns">
        <div class="stack">
          <div class="card"><MarkedPicture :key="shown.id" :finding="shown" /></div>
          <section class="card" aria-labelledby="place-title">
            <h2 id="place-title">The place</h2>
            <dl>
              <dt>Page</dt><dd>{{ shown.address }} ({{ shown.edition }}, read {{ time(shown.read_at) }}) <a :href="shown.address" rel="noreferrer" :aria-label="`Open the page ${shown.path}`">Open the page</a></dd>
              <dt>Selector</dt><dd><code>{{ shown.selector }}</code></dd>
              <template v-if="shown.line"><dt>Source</dt><dd>line {{ shown.line }}, column {{ shown.column }}</dd></template>
              <dt>Markup</dt><dd><pre tabindex="0">{{ shown.excerpt }}</pre></dd>
            </dl>
          </section>
        </div>
        <div class="stack">
          <FindingDecision :key="shown.id" :finding="shown" />
          <section v-if="shown.question" class="card" aria-labelledby="question-title"><h2 id="question-title">What a person has to answer</h2><p>{{ shown.question }}</p></section>
          <section class="card" aria-labelledby="mend-title">
            <h2 id="mend-title">How to mend it</h2>
            <ul class="mends"><li v-for="mend in shown.mends" :key="mend.says"><MendLine :mend="mend" /></li></ul>
            <ContrastFacts v-if="isContrast" :facts="shown.facts" />
          </section>
          <section v-if="!isContrast" class="card" aria-labelledby="facts-title">
            <h2 id="facts-title">What was measured</h2>
            <dl><template v-for="[name, value] in facts" :key="name"><dt>{{ name.replaceAll("_", " ") }}</dt><dd><FactValue :value="value" /></dd></template></dl>
          </section>
          <section v-if="help" class="card" aria-labelledby="help-title">
            <h2 id="help-title">About this check</h2>
            <HelpText :text="help.summary" />
            <template v-for="(body, heading) in help.sections" :key="heading"><h3>{{ heading }}</h3><HelpText :text="body" /></template>
          </section>
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
h1 { margin-bottom: 8px; }
.head { align-items: start; flex-wrap: nowrap; } .head > :last-child { flex-wrap: nowrap; flex: none; }
dl { display: grid; grid-template-columns: minmax(6em, max-content) minmax(0, 1fr); gap: 6px 12px; margin: 0; } dt { font-weight: 600; } dd { margin: 0; overflow-wrap: anywhere; }
pre { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; background: var(--ground); border: 1px solid var(--line); border-radius: 6px; padding: 8px 12px; }
h3 { font-size: 15px; margin: 14px 0 4px; } .mends { margin: 0 0 12px; padding-left: 20px; }
@media (max-width: 900px) { .head { flex-wrap: wrap; } }
</style>
