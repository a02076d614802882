<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, onUnmounted, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, uniqueKey } from "@/api/client";
import type { Environment } from "@/choices";
import { count, says, time, readiness } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import LowVisionPreview from "@/parts/LowVisionPreview.vue";
import PageDrafts from "@/parts/PageDrafts.vue";
import PageFindings from "@/parts/PageFindings.vue";
import PagePictures from "@/parts/PagePictures.vue";
import ReadingHistory from "@/parts/ReadingHistory.vue";
import type { Stop } from "@/parts/TabPath.vue";
import PageViewRows from "@/parts/PageViewRows.vue";
import UntestedChecks from "@/parts/UntestedChecks.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useKeys } from "@/use/keys";
import { usePageView } from "@/use/pageView";
import { announce } from "@/use/announcements";

const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { text, number, set } = useAddress();
const path = computed(() => text("path") ?? "/");
const environment = computed(() => text("environment") as Environment | undefined);
const {
  data: readings,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["readings", computed(() => [props.site, path.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/readings", {
        params: { path: { slug: props.site }, query: { path: path.value, limit: 30 } },
      }),
    ),
});
const all = computed(() => readings.value?.items ?? []);
const environments = computed(() => [...new Set(all.value.map((one) => one.environment))].sort());
const shown = computed(
  () =>
    all.value.find((one) => one.id === number("reading")) ??
    all.value.find((one) => !environment.value || one.environment === environment.value),
);
const { data: found } = useQuery({
  queryKey: ["findings", computed(() => [props.site, "at", path.value, shown.value?.sweep_id])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/findings", {
        params: {
          path: { slug: props.site },
          query: { sweep: shown.value!.sweep_id, at: path.value, sort: "page", limit: 200 },
        },
      }),
    ),
  enabled: computed(() => shown.value !== undefined),
});
const findings = computed(() => found.value?.items ?? []);

const VIEWS = [
  ["findings", "Findings"],
  ["outline", "Outline"],
  ["heard", "As heard"],
  ["order", "Reading order"],
  ["focus", "Tab path"],
  ["links", "Links alone"],
  ["pictures", "Pictures and texts"],
  ["colours", "Colour pairs"],
  ["names", "Name trace"],
  ["low-vision", "Low-vision preview"],
  ["readings", "Over time"],
] as const;
const as = computed(() => VIEWS.find(([name]) => name === text("as"))?.[0] ?? "findings");
const chosen = computed(() => number("finding"));
const look = computed(() => (as.value === "low-vision" ? (text("look") ?? "grey") : undefined));
const { data: focus } = usePageView(
  () => shown.value?.id ?? 0,
  "focus",
  () => as.value === "focus" && shown.value !== undefined,
);
const stops = computed(() =>
  as.value === "focus" ? ((focus.value?.rows ?? []) as unknown as Stop[]) : undefined,
);
const zoomTried = computed(
  () => !shown.value?.untested.some((one) => one.check?.startsWith("zoom") && !one.tried_at),
);

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
useKeys([
  { keys: "j", says: "next finding", act: () => go(1) },
  { keys: "k", says: "finding before", act: () => go(-1) },
]);

const waiting = ref<number | null>(null);
const again = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/sweeps", {
        params: { path: { slug: props.site }, header: { "Idempotency-Key": uniqueKey() } },
        body: {
          environment: shown.value?.environment ?? "live",
          lens: "rendered",
          section: "/",
          changed: false,
          fresh: true,
          paths: [path.value],
        },
      }),
    ),
  onSuccess: (sweep) => {
    waiting.value = sweep.id;
  },
});
watch(all, (now) => {
  if (waiting.value === null || now[0]?.sweep_id !== waiting.value) return;
  waiting.value = null;
  void set({ reading: null, finding: null });
  announce(
    `${path.value} was read again: ${count(now[0].failed, "fault")}, ${now[0].doubtful} to look at.`,
  );
});
const poll = setInterval(() => {
  if (waiting.value !== null) void cache.invalidateQueries({ queryKey: ["readings"] });
}, 1500);
onUnmounted(() => clearInterval(poll));
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the page" @again="refetch()">
    <div class="stack">
      <CrumbTrail
        :site="site"
        :steps="[{ says: 'Pages', to: { name: 'pages', params: { site } } }, { says: path }]"
      />
      <div class="row spread">
        <div>
          <h1 tabindex="-1">{{ shown?.title || path }}</h1>
          <p v-if="shown" class="row">
            <span>{{ path }}</span><strong>{{ readiness(shown) }}</strong
            ><span class="soft">{{ shown.environment }}, read {{ time(shown.read_at) }}</span
            ><a :href="shown.address" rel="noreferrer">Open the page</a>
          </p>
        </div>
        <div class="row">
          <nav v-if="environments.length > 1" class="tabs" aria-label="Environment">
            <RouterLink
              v-for="one in environments"
              :key="one"
              :to="{ query: { path, environment: one, as: text('as') } }"
              :aria-current="one === shown?.environment ? 'page' : undefined"
              replace
              >{{ one === "live" ? "Live" : "Staging" }}</RouterLink
            >
          </nav>
          <Button
            v-if="session.me?.role === 'manager' && shown"
            label="Read again now"
            variant="outlined"
            :loading="again.isPending.value || waiting !== null"
            @click="again.mutate()"
          />
        </div>
      </div>
      <p v-if="waiting !== null" role="status">The page is being read again …</p>
      <Message v-if="again.error.value" severity="error" role="alert">{{
        says(again.error.value)
      }}</Message>
      <p v-if="!shown" class="card">
        This page was never read{{ environment ? ` in ${environment}` : "" }}.
      </p>
      <Message v-else-if="shown.problem_says" severity="error"
        >{{ shown.problem_says }} ({{ shown.problem_code }})</Message
      >
      <div v-if="shown" class="look">
        <PagePictures
          :reading="shown"
          :path="path"
          :findings="findings"
          :chosen="chosen"
          :look="look"
          :stops="stops"
          @choose="choose"
        />
        <div class="stack tight">
          <nav class="tabs" aria-label="Page views">
            <RouterLink
              v-for="[name, label] in VIEWS"
              :key="name"
              :to="{
                query: {
                  path,
                  environment: text('environment'),
                  reading: text('reading'),
                  finding: text('finding'),
                  as: name === 'findings' ? undefined : name,
                },
              }"
              :aria-current="name === as ? 'page' : undefined"
              replace
              >{{ label
              }}<template v-if="name === 'findings'"> ({{ findings.length }})</template></RouterLink
            >
          </nav>
          <PageDrafts
            v-if="as === 'findings'"
            :site="site"
            :path="path"
            :environment="shown.environment as Environment"
          />
          <section class="card page-view" :aria-label="VIEWS.find(([name]) => name === as)![1]">
            <PageFindings
              v-if="as === 'findings' && findings.length"
              :site="site"
              :findings="findings"
              :chosen="chosen"
              @choose="choose"
            />
            <p v-else-if="as === 'findings'">
              Nothing was found on this page{{
                shown.status === "read" ? "" : ", since it could not be read"
              }}.
            </p>
            <ReadingHistory
              v-else-if="as === 'readings'"
              :site="site"
              :path="path"
              :readings="all"
              :shown="shown"
            />
            <LowVisionPreview
              v-else-if="as === 'low-vision'"
              :site="site"
              :reading="shown.id"
              :look="look!"
              :findings="findings"
              :tried="zoomTried"
              @choose="(name) => set({ look: name })"
            />
            <PageViewRows v-else :site="site" :reading="shown.id" :view="as" :findings="findings" />
            <UntestedChecks
              v-if="as === 'findings'"
              :site="site"
              :environment="shown.environment"
              :lens="shown.lens"
              :untested="shown.untested"
            />
          </section>
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
.look {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
.page-view {
  padding: 12px 16px;
}
@media (max-width: 1000px) {
  .look {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
