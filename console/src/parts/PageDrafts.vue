<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import type { Environment } from "@/choices";
import { count, says } from "@/format";
import CorrectionLine from "@/parts/CorrectionLine.vue";
import { announce } from "@/use/announcements";
import { useCorrectionList, useCorrections } from "@/use/corrections";
import { session } from "@/session";

/** What is changed on a page by now: its corrections as plain sentences, with the ways out. */
const props = defineProps<{ site: string; path: string; environment: Environment }>();
const cache = useQueryClient();
const { takeBack } = useCorrections();
const { data: found } = useCorrectionList(
  () => props.site,
  () => ({
    path: props.path,
    environment: props.environment,
    state: ["waiting", "refused", "drafted", "written", "conflict"],
  }),
);
const shown = computed(() =>
  (found.value?.items ?? []).filter(
    (one) => one.state !== "refused" || one.by_id === session.me?.id,
  ),
);
const drafts = computed(() => shown.value.filter((one) => one.state === "drafted"));
const mine = computed(() =>
  drafts.value.filter((one) => session.me?.role === "manager" || one.by_id === session.me?.id),
);
const query = computed(() =>
  new URLSearchParams({ path: props.path, environment: props.environment }).toString(),
);
const base = computed(() => `/api/v1/sites/${props.site}/corrections`);
const write = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/corrections/writing", {
        params: { path: { slug: props.site } },
        body: { ids: mine.value.map((one) => one.id), mine: false },
      }),
    ),
  onSuccess: (answer) => {
    announce(`${count(answer.ids.length, "correction")} being written.`);
    return cache.invalidateQueries({ queryKey: ["corrections"] });
  },
});
const back = useMutation({
  mutationFn: async () => {
    for (const one of mine.value) await takeBack(one);
  },
});
</script>

<template>
  <section v-if="shown.length" class="card stack tight" aria-labelledby="drafts-title">
    <h2 id="drafts-title">What is changed on this page</h2>
    <ul class="plain-list" aria-labelledby="drafts-title">
      <CorrectionLine v-for="one in shown" :key="one.id" :correction="one" />
    </ul>
    <div v-if="drafts.length" class="row">
      <Button
        v-if="mine.length"
        :label="`Write ${count(mine.length, 'correction')}`"
        :loading="write.isPending.value"
        @click="write.mutate()"
      />
      <Button
        v-if="mine.length > 1"
        label="Take all back"
        variant="outlined"
        severity="secondary"
        :loading="back.isPending.value"
        @click="back.mutate()"
      />
      <a :href="`${base}/page?${query}`" download>Download the changed page (HTML)</a>
      <a :href="`${base}/changes.diff?${query}`">As a diff</a>
    </div>
    <Message v-if="write.error.value ?? back.error.value" severity="error" role="alert">{{
      says(write.error.value ?? back.error.value)
    }}</Message>
  </section>
</template>
