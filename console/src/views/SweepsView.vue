<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, uniqueKey, type Sweep } from "@/api/client";
import { type Environment } from "@/choices";
import { count, number as shownNumber, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import LongList from "@/parts/LongList.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string }>();
const router = useRouter();
const cache = useQueryClient();
const { text, set } = useAddress();
/** Proofs and pages read again are asked for: else they would hide the sweeps of the site. */
const given = computed(() => text("given") === "yes");
const { rows, more, hasMore, isPending, error, refetch } = useListing<Sweep>(
  () => ["sweeps", props.site, given.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/sweeps", {
        params: { path: { slug: props.site }, query: { limit: 100, given: given.value, ...after } },
      }),
    ),
);
useRowKeys("sweep");
const environment = ref<string | null>("live");
const lens = ref<string | null>("rendered");
const scope = ref<string | null>("all");
const section = ref("/");
const start = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/sweeps", {
        params: { path: { slug: props.site }, header: { "Idempotency-Key": uniqueKey() } },
        body: {
          environment: environment.value as Environment,
          lens: lens.value as "rendered" | "markup",
          section: section.value || "/",
          changed: scope.value === "changed",
          fresh: scope.value === "fresh",
          paths: [],
        },
      }),
    ),
  onSuccess: async (sweep) => {
    await cache.invalidateQueries({ queryKey: ["sweeps"] });
    await router.push({ name: "sweep", params: { site: props.site, sweep: sweep.id } });
  },
});
const SCOPES = [
  { label: "All pages, unchanged ones are not read again", value: "all" },
  { label: "Only what the sitemap says changed", value: "changed" },
  { label: "All pages anew", value: "fresh" },
];
const LENSES = [
  { label: "In a browser", value: "rendered" },
  { label: "The markup alone", value: "markup" },
];
const pair = computed(() => text("chosen")?.split(".") ?? []);
const turn = (id: number, on: boolean) =>
  set({
    chosen: (on
      ? [...pair.value, String(id)].slice(-2)
      : pair.value.filter((one) => one !== String(id))
    ).join("."),
  });
const ordered = computed(() => pair.value.map(Number).sort((a, b) => a - b));
const what = (sweep: Sweep) =>
  sweep.scope === "given"
    ? `${sweep.total} chosen pages`
    : sweep.section === "/"
      ? "whole site"
      : `below ${sweep.section}`;
</script>

<template>
  <div class="stack">
    <div class="titled">
      <h1 tabindex="-1">Sweeps</h1>
      <TermHelp term="sweep" />
    </div>
    <form
      v-if="session.me?.role === 'manager'"
      class="card fields"
      aria-label="Start a sweep"
      @submit.prevent="start.mutate()"
    >
      <EnvironmentField v-model="environment" :site="site" :all="null" />
      <ChoiceField v-model="scope" label="Which pages" :options="SCOPES" :all="null" />
      <div class="field">
        <label for="s-section">Below</label
        ><InputText id="s-section" v-model="section" pattern="/[^\s#]*" required />
      </div>
      <ChoiceField v-model="lens" label="How" :options="LENSES" :all="null" />
      <Button type="submit" label="Start a sweep" :loading="start.isPending.value" />
    </form>
    <Message v-if="start.error.value" severity="error" role="alert">{{
      says(start.error.value)
    }}</Message>
    <AsyncState :loading="isPending" :error="error" what="the sweeps" @again="refetch()">
      <label class="row">
        <input
          type="checkbox"
          :checked="given"
          @change="set({ given: given ? undefined : 'yes' })"
        />
        Also proofs and pages read again
      </label>
      <p class="row" role="status">
        {{ pair.length === 2 || rows.length < 2 ? "" : "Tick two to compare them."
        }}<RouterLink
          v-if="pair.length === 2"
          :to="{
            name: 'compare',
            params: { site },
            query: { sweep: String(ordered[1]), against: String(ordered[0]) },
          }"
          >Compare sweep {{ ordered[1] }} with sweep {{ ordered[0] }}</RouterLink
        >
      </p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(row) => row.id"
        :has-more="hasMore"
        label="Sweeps, the newest first"
        @more="more"
      >
        <template #default="{ row }"
          ><div class="sweep">
            <input
              type="checkbox"
              :checked="pair.includes(String(row.id))"
              :disabled="row.state !== 'done' || !!row.forgotten_at"
              :aria-label="`Compare sweep ${row.id}`"
              @change="turn(row.id, ($event.target as HTMLInputElement).checked)"
            />
            <div>
              <RouterLink :to="{ name: 'sweep', params: { site, sweep: row.id } }"
                >Sweep {{ row.id }}</RouterLink
              ><span class="soft">, {{ row.environment }}, {{ what(row) }}</span>
              <p class="soft small">
                {{ time(row.created_at) }}{{ row.forgotten_at ? ", only the counts are kept" : "" }}
              </p>
            </div>
            <div>
              <span
                class="state"
                :class="{
                  proven: row.state === 'done',
                  in_hand: row.state === 'running',
                  reopened: row.state === 'failed',
                }"
                >{{
                  row.state === "running"
                    ? `${shownNumber(row.read + row.unreadable)} of ${shownNumber(row.total)} read`
                    : row.state
                }}</span
              >
              <progress
                v-if="row.state === 'running'"
                :value="row.read + row.unreadable"
                :max="row.total || 1"
                :aria-label="`Pages read of sweep ${row.id}`"
              />
            </div>
            <div class="figure">
              {{ shownNumber(row.ready) }} of {{ shownNumber(row.total - row.left_out) }} ready
              <p class="soft small">
                {{ count(row.found.barrier ?? 0, "barrier") }},
                {{ count(row.found.obstacle ?? 0, "obstacle") }}
              </p>
            </div>
          </div></template
        >
      </LongList>
      <p v-else class="card">No sweep yet. Start one above: every page is found and read.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
.sweep {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 9px 18px;
  align-items: flex-start;
}
.sweep > div {
  flex: 1 1 15em;
  min-width: 0;
}
.sweep > div ~ div {
  flex: 0 1 12em;
}
progress {
  width: 100%;
  accent-color: var(--plum);
}
</style>
