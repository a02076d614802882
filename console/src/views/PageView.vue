<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, onUnmounted, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, uniqueKey } from "@/api/client";
import type { Edition } from "@/choices";
import { count, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import PagePicture from "@/parts/PagePicture.vue";
import ReadingHistory from "@/parts/ReadingHistory.vue";
import WayToLook from "@/parts/WayToLook.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useKeys } from "@/use/keys";
import { tell } from "@/use/told";

const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { text, number, set } = useAddress();
const path = computed(() => text("path") ?? "/");
const edition = computed(() => text("edition") as Edition | undefined);
const { data: readings, isPending, error, refetch } = useQuery({
  queryKey: ["readings", computed(() => [props.site, path.value])],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/readings", { params: { path: { slug: props.site }, query: { path: path.value, limit: 30 } } })),
});
const all = computed(() => readings.value?.items ?? []);
const editions = computed(() => [...new Set(all.value.map((one) => one.edition))].sort());
const shown = computed(() => all.value.find((one) => one.id === number("reading")) ?? all.value.find((one) => !edition.value || one.edition === edition.value));
const { data: found } = useQuery({
  queryKey: ["findings", computed(() => [props.site, "at", path.value, shown.value?.sweep_id])],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/findings", { params: { path: { slug: props.site }, query: { sweep: shown.value!.sweep_id, at: path.value, limit: 200 } } })),
  enabled: computed(() => shown.value !== undefined),
});
const findings = computed(() => found.value?.items ?? []);

const WAYS = [["findings", "Findings"], ["outline", "Outline"], ["heard", "As heard"], ["order", "Reading order"], ["links", "Links alone"], ["pictures", "Pictures and texts"], ["colours", "Colour pairs"], ["names", "Name trace"], ["pale", "Pale and small"], ["readings", "Over time"]] as const;
const as = computed(() => WAYS.find(([name]) => name === text("as"))?.[0] ?? "findings");
const chosen = computed(() => number("finding"));
const LOOKS = [["grey", "In grey"], ["pale", "Pale"], ["blurred", "Out of focus"]] as const;
const look = computed(() => (as.value === "pale" ? text("look") ?? "grey" : undefined));
const zoomTried = computed(() => !shown.value?.untested.some((one) => one.check?.startsWith("zoom")));
const zoomed = computed(() => findings.value.filter((one) => one.check.startsWith("zoom/")));

async function choose(id: number) {
  await set({ finding: String(id), as: as.value === "findings" ? null : "findings" });
  await nextTick();
  document.getElementById(`f-${id}`)?.scrollIntoView({ block: "nearest" });
}
function go(step: number) {
  const at = findings.value.findIndex((one) => one.id === chosen.value);
  const next = findings.value[Math.min(Math.max(at + step, 0), findings.value.length - 1)];
  if (!next) return;
  void choose(next.id).then(() => document.querySelector<HTMLElement>(`#f-${next.id} a`)?.focus());
}
useKeys([{ keys: "j", says: "next finding", act: () => go(1) }, { keys: "k", says: "finding before", act: () => go(-1) }]);

const waiting = ref<number | null>(null);
const again = useMutation({
  mutationFn: () => data(api.POST("/api/v1/sites/{slug}/sweeps", {
    params: { path: { slug: props.site }, header: { "Idempotency-Key": uniqueKey() } },
    body: { edition: shown.value?.edition ?? "live", lens: "rendered", section: "/", changed: false, fresh: true, paths: [path.value] },
  })),
  onSuccess: (sweep) => { waiting.value = sweep.id; },
});
watch(all, (now) => {
  if (waiting.value === null || now[0]?.sweep_id !== waiting.value) return;
  waiting.value = null;
  void set({ reading: null, finding: null });
  tell(`${path.value} was read again: ${count(now[0].failed, "fault")}, ${now[0].doubtful} to look at.`);
});
const poll = setInterval(() => { if (waiting.value !== null) void cache.invalidateQueries({ queryKey: ["readings"] }); }, 1500);
onUnmounted(() => clearInterval(poll));
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the page" @again="refetch()">
    <div class="stack">
      <CrumbTrail :steps="[{ says: shown?.site_name ?? site, to: { name: 'site', params: { site } } }, { says: 'Pages', to: { name: 'pages', params: { site } } }, { says: path }]" />
      <div class="row spread">
        <div><h1 tabindex="-1">{{ shown?.title || path }}</h1>
          <p v-if="shown" class="row"><span>{{ path }}</span><strong>{{ shown.ready ? "ready to publish" : shown.status === "read" ? "not ready" : "could not be read" }}</strong><span class="soft">{{ shown.edition }}, read {{ time(shown.read_at) }}</span><a :href="shown.address" rel="noreferrer">Open the page</a></p></div>
        <div class="row"><nav v-if="editions.length > 1" class="tabs" aria-label="Edition"><RouterLink v-for="one in editions" :key="one" :to="{ query: { path, edition: one, as: text('as') } }" :aria-current="one === shown?.edition ? 'page' : undefined" replace>{{ one === "live" ? "Live" : "Staging" }}</RouterLink></nav>
          <Button v-if="session.me?.role === 'manager' && shown" label="Read again now" variant="outlined" :loading="again.isPending.value || waiting !== null" @click="again.mutate()" /></div>
      </div>
      <p v-if="waiting !== null" role="status">The page is being read again …</p>
      <Message v-if="again.error.value" severity="error" role="alert">{{ says(again.error.value) }}</Message>
      <p v-if="!shown" class="card">This page was never read{{ edition ? ` in ${edition}` : "" }}.</p>
      <Message v-else-if="shown.problem_says" severity="error">{{ shown.problem_says }} ({{ shown.problem_code }})</Message>
      <div v-if="shown" class="look">
        <div>
          <PagePicture v-if="shown.picture" :key="shown.id" :picture="shown.picture" :path="path" :findings="findings" :chosen="chosen" :look="look" @choose="choose" />
          <p v-else class="card">This reading took no picture of the page: it shows nothing that was not pictured elsewhere in the sweep. <template v-if="session.me?.role === 'manager'">“Read again now” takes one.</template></p>
        </div>
        <div class="stack tight">
          <nav class="tabs" aria-label="Ways to look at the page"><RouterLink v-for="[name, label] in WAYS" :key="name" :to="{ query: { path, edition: text('edition'), reading: text('reading'), finding: text('finding'), as: name === 'findings' ? undefined : name } }" :aria-current="name === as ? 'page' : undefined" replace>{{ label }}<template v-if="name === 'findings'"> ({{ findings.length }})</template></RouterLink></nav>
          <section class="card way" :aria-label="WAYS.find(([name]) => name === as)![1]">
            <ol v-if="as === 'findings' && findings.length" class="plain-list">
              <li v-for="(finding, at) in findings" :id="`f-${finding.id}`" :key="finding.id" class="found" :class="{ chosen: finding.id === chosen }">
                <button type="button" class="number" :aria-label="`Mark ${at + 1} on the picture`" :aria-pressed="finding.id === chosen" @click="choose(finding.id)">{{ at + 1 }}</button>
                <div><WeightMark :weight="finding.weight" :outcome="finding.outcome" /> <RouterLink :to="{ name: 'finding', params: { site, finding: finding.id } }" :aria-label="`${finding.says} ${at + 1}`">{{ finding.says }}</RouterLink>
                  <p class="soft small">{{ finding.check }}{{ finding.line ? `, line ${finding.line}` : "" }}{{ finding.visible || finding.selector === "html" ? "" : " · not to be seen; marked is what is around it" }}{{ finding.selector === "html" ? " · about the page as a whole" : "" }}{{ finding.waiver_id ? " · waived" : "" }}{{ finding.answer ? ` · judged ${finding.answer}` : "" }}</p></div>
              </li>
            </ol>
            <p v-else-if="as === 'findings'">Nothing was found on this page{{ shown.status === "read" ? "" : ", since it could not be read" }}.</p>
            <ReadingHistory v-else-if="as === 'readings'" :site="site" :path="path" :readings="all" :shown="shown" />
            <div v-else-if="as === 'pale'" class="stack">
              <p>The picture beside this as others see it:</p>
              <div class="tabs"><button v-for="[name, label] in LOOKS" :key="name" type="button" :aria-pressed="look === name" @click="set({ look: name })">{{ label }}</button></div>
              <h2>At 320 px wide and with text at 200 %</h2>
              <ul v-if="zoomed.length"><li v-for="one in zoomed" :key="one.id"><RouterLink :to="{ name: 'finding', params: { site, finding: one.id } }">{{ one.says }}</RouterLink></li></ul>
              <p v-else-if="!zoomTried">This reading did not try it: it needs a browser, and time. Read the page again with the rendered lens to see.</p>
              <p v-else>The checks tried it, and nothing was cut off or had to be scrolled sideways.</p>
            </div>
            <WayToLook v-else :site="site" :reading="shown.id" :way="as" />
            <p v-if="as === 'findings' && shown.untested.length" class="soft small">Not tested: {{ shown.untested.map((one) => one.check).join(", ") }}</p>
          </section>
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
.look { display: grid; grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr); gap: 18px; align-items: start; } .way { padding: 12px 16px; }
.found { display: grid; grid-template-columns: 34px minmax(0, 1fr); gap: 10px; padding: 9px 6px; border-bottom: 1px solid var(--line); } .found.chosen { background: var(--soft-plum); } .number { min-width: 30px; height: 26px; border: 0; border-radius: 4px; background: #2b2430; color: #fff; font: 700 13px/1 inherit; font-family: inherit; cursor: pointer; }
@media (max-width: 1000px) { .look { grid-template-columns: minmax(0, 1fr); } }
</style>
