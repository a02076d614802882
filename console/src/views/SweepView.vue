<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, onUnmounted, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import ProgressBar from "primevue/progressbar";
import Message from "primevue/message";
import { api, data, type Progress } from "@/api/client";
import { count, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import ExportLinks from "@/parts/ExportLinks.vue";
import SweepChanges from "@/parts/SweepChanges.vue";
import { session } from "@/session";

const props = defineProps<{ site: string; sweep: string }>();
const cache = useQueryClient();
const id = computed(() => Number(props.sweep));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["sweep", id],
  queryFn: () =>
    data(api.GET("/api/v1/sweeps/{sweep_id}", { params: { path: { sweep_id: id.value } } })),
});
const { data: unread } = useQuery({
  queryKey: ["unread", id],
  enabled: computed(() => !!shown.value && !shown.value.forgotten_at),
  queryFn: () =>
    data(
      api.GET("/api/v1/sweeps/{sweep_id}/readings", {
        params: { path: { sweep_id: id.value }, query: { status: "unreadable", limit: 200 } },
      }),
    ),
});

const last = ref<Progress | null>(null);
const lost = ref(false);
let source: EventSource | null = null;

function stop() {
  source?.close();
  source = null;
}

function listen() {
  stop();
  last.value = null;
  source = new EventSource(`/api/v1/sweeps/${props.sweep}/events`);
  source.addEventListener("open", () => (lost.value = false));
  source.addEventListener("error", () => (lost.value = true));
  source.addEventListener("progress", async (event) => {
    last.value = JSON.parse(event.data) as Progress;
    if (
      last.value.kind === "done" ||
      last.value.kind === "failed" ||
      last.value.kind === "stopped"
    ) {
      stop();
      lost.value = false;
      await cache.invalidateQueries();
    }
  });
}

watch(
  () => shown.value?.state,
  (state) => {
    if (state === "queued" || state === "running") listen();
  },
  { immediate: true },
);
onUnmounted(stop);

const total = computed(() => last.value?.total || shown.value?.total || 0);
const done = computed(() =>
  last.value
    ? last.value.read + last.value.unreadable
    : (shown.value?.read ?? 0) + (shown.value?.unreadable ?? 0),
);
const ready = computed(() => last.value?.ready ?? shown.value?.ready ?? 0);
const unchanged = computed(() => last.value?.unchanged ?? shown.value?.unchanged ?? 0);
const path = computed(() => ({ sweep_id: id.value }));
const halt = useMutation({
  mutationFn: () =>
    data(
      shown.value?.state === "stopped"
        ? api.POST("/api/v1/sweeps/{sweep_id}/resume", { params: { path: path.value } })
        : api.POST("/api/v1/sweeps/{sweep_id}/stop", { params: { path: path.value } }),
    ),
  onSettled: () => cache.invalidateQueries({ queryKey: ["sweep", id] }),
});
const pace = computed(() => {
  const now = last.value ?? shown.value;
  if (!going.value || !now?.rate) return "";
  return `${now.rate.toFixed(1)} pages a second${now.seconds_left ? `, about ${Math.ceil(now.seconds_left / 60)} min left` : ""}`;
});
const going = computed(() => shown.value?.state === "queued" || shown.value?.state === "running");
const state = computed(() => {
  if (!going.value)
    return { done: "done", stopped: "stopped" }[shown.value?.state as string] ?? "could not go on";
  return total.value ? "reading" : "finding the pages";
});
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the sweep" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="site"
        :steps="[
          { says: 'Sweeps', to: { name: 'sweeps', params: { site } } },
          { says: `Sweep ${shown.id}` },
        ]"
      />
      <div>
        <h1 tabindex="-1">Sweep {{ shown.id }}: {{ shown.environment }}, {{ state }}</h1>
        <p class="soft">
          {{ shown.section === "/" ? "The whole site" : `Pages below ${shown.section}` }},
          {{ shown.lens === "rendered" ? "in a browser" : "the markup alone" }}. Asked for
          {{ time(shown.created_at)
          }}<template v-if="shown.finished_at">, ended {{ time(shown.finished_at) }}</template>
        </p>
      </div>
      <Message v-if="lost && going" severity="warn" role="status"
        >The connection was lost; trying again. The sweep itself goes on.</Message
      >
      <Message v-if="shown.problem" severity="error">{{ shown.problem }}</Message>
      <section class="card" aria-label="Progress">
        <ProgressBar
          :value="total ? Math.round((100 * done) / total) : 0"
          :show-value="false"
          aria-label="Pages read"
        />
        <p class="figures" role="status">
          {{ done }} of {{ total }} pages read, {{ ready }} ready to publish<template
            v-if="unchanged"
            >; {{ unchanged }} were as before</template
          >
        </p>
        <p v-if="pace" class="soft">{{ pace }}</p>
        <Button
          v-if="
            session.me?.role === 'manager' &&
            (going || (shown.state === 'stopped' && !shown.forgotten_at))
          "
          :label="shown.state === 'stopped' ? 'Go on' : 'Stop'"
          size="small"
          severity="secondary"
          :loading="halt.isPending.value"
          @click="halt.mutate()"
        />
        <p v-if="shown.unlisted || shown.redirects" class="soft">
          {{
            [
              shown.unlisted &&
                `${count(shown.unlisted, "page is", "pages are")} linked and not in the sitemap.`,
              shown.redirects &&
                `${count(shown.redirects, "address leads", "addresses lead")} to other pages and count as none.`,
            ]
              .filter(Boolean)
              .join(" ")
          }}
        </p>
        <p v-if="shown.forgotten_at">
          Only these counts are kept; what the sweep found was forgotten on
          {{ time(shown.forgotten_at) }}, for its age.
        </p>
        <p v-else-if="shown.state === 'done'">
          <RouterLink
            :to="{ name: 'findings', params: { site }, query: { sweep: String(shown.id) } }"
            >What was found</RouterLink
          >
          ·
          <RouterLink :to="{ name: 'causes', params: { site }, query: { sweep: String(shown.id) } }"
            >its causes</RouterLink
          >
          ·
          <RouterLink :to="{ name: 'pages', params: { site }, query: { sweep: String(shown.id) } }"
            >its pages</RouterLink
          ><template v-if="shown.base_id">
            ·
            <RouterLink
              :to="{
                name: 'compare',
                params: { site },
                query: { sweep: String(shown.id), against: String(shown.base_id) },
              }"
              >what changed since sweep {{ shown.base_id }}</RouterLink
            ></template
          >
        </p>
      </section>
      <ExportLinks
        v-if="shown.state === 'done' && !shown.forgotten_at"
        :site="site"
        :sweep="shown.id"
      />
      <SweepChanges
        v-if="shown.state === 'done' && shown.base_id && !shown.forgotten_at"
        :sweep="shown.id"
      />
      <section v-if="unread?.items.length" class="card" aria-labelledby="unread-title">
        <h2 id="unread-title">Pages that could not be read</h2>
        <ul>
          <li v-for="reading in unread.items" :key="reading.id">
            <strong>{{ reading.path }}</strong>: {{ reading.problem_says }}
            <span class="soft">({{ reading.problem_code }})</span>
          </li>
        </ul>
      </section>
    </div>
  </AsyncState>
</template>

<style scoped>
.figures {
  font-size: 18px;
  margin-top: 12px;
}
</style>
