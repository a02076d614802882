<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { count, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import CorrectionLine from "@/parts/CorrectionLine.vue";
import SourceConnections from "@/parts/SourceConnections.vue";
import { session } from "@/session";
import { CORRECTION_LABELS } from "@/terms";
import { announce } from "@/use/announcements";
import { useCorrectionList, type State } from "@/use/corrections";
import { useRowKeys } from "@/use/keys";

/** All that was corrected on a site, or is about to be, with the ways out. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const route = useRoute();
const state = ref<string | null>(String(route.query.state ?? "drafted"));
const mine = ref(Boolean(route.query.mine) || session.me?.role !== "manager");
const {
  data: found,
  isPending,
  error,
  refetch,
} = useCorrectionList(
  () => props.site,
  () => ({
    state: state.value ? [state.value as State] : undefined,
    mine: mine.value || undefined,
    limit: 200,
  }),
);
const drafts = computed(() => (found.value?.items ?? []).filter((one) => one.state === "drafted"));
const base = computed(() => `/api/v1/sites/${props.site}/corrections`);
const whose = computed(() => (mine.value ? "?mine=true" : ""));
const write = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/corrections/writing", {
        params: { path: { slug: props.site } },
        body: { ids: drafts.value.map((one) => one.id), mine: false },
      }),
    ),
  onSuccess: (answer) => {
    announce(`${count(answer.ids.length, "correction")} being written.`);
    return cache.invalidateQueries({ queryKey: ["corrections"] });
  },
});
useRowKeys("correction");
const STATES = Object.entries(CORRECTION_LABELS).map(([value, label]) => ({ value, label }));
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <h1 tabindex="-1">Corrections</h1>
      <div class="row">
        <a v-if="drafts.length" :href="`${base}/changes.zip${whose}`" download
          >Download the changed pages (ZIP)</a
        >
        <a v-if="drafts.length" :href="`${base}/changes.diff${whose}`">As a diff</a>
        <Button
          v-if="drafts.length && session.me?.role !== 'reader'"
          :label="`Write ${count(drafts.length, 'draft')}`"
          :loading="write.isPending.value"
          @click="write.mutate()"
        />
      </div>
    </div>
    <div class="row fields">
      <ChoiceField v-model="state" label="How far" :options="STATES" all="All" />
      <label class="row"><input v-model="mine" type="checkbox" /> Only mine</label>
    </div>
    <Message v-if="write.error.value" severity="error" role="alert">{{
      says(write.error.value)
    }}</Message>
    <AsyncState :loading="isPending" :error="error" what="the corrections" @again="refetch()">
      <p role="status">{{ count(found?.total ?? 0, "correction") }}</p>
      <div v-if="found?.items.length" class="card">
        <ul class="plain-list" aria-label="Corrections">
          <CorrectionLine v-for="one in found.items" :key="one.id" :correction="one" with-page />
        </ul>
      </div>
      <p v-else class="soft">
        {{
          state === "drafted"
            ? "Nothing is drafted. Open a finding, choose how to mend it, and press Apply."
            : "There is none."
        }}
      </p>
    </AsyncState>
    <SourceConnections v-if="session.me?.role === 'manager'" :site="site" />
  </div>
</template>
