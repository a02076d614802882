<script setup lang="ts">
import { useMutation, useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data, type Correction, type FindingInFull } from "@/api/client";
import { says } from "@/format";
import TriedLines from "@/mends/TriedLines.vue";
import NameTrace from "@/parts/NameTrace.vue";
import { announce } from "@/use/announcements";
import { useCorrections } from "@/use/corrections";
import { useDraft } from "@/use/drafts";
import { useTried } from "@/use/tried";

/** The element's markup, edited in place: its name, what is heard and what is found follow at once. Nothing is kept until it becomes a correction. */
const props = defineProps<{ finding: FindingInFull }>();
const emit = defineEmits<{ drafted: [] }>();
const trying = ref(false);
const { words: kept, forget } = useDraft(`try:${props.finding.check}:${props.finding.place_key}`);
const { data: own, error } = useQuery({
  queryKey: ["markup", computed(() => props.finding.id)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}/markup", {
        params: { path: { finding_id: props.finding.id } },
      }),
    ),
  enabled: trying,
  retry: false,
  staleTime: 60_000,
});
const markup = ref("");
watch(own, (found) => {
  if (found) markup.value = kept.value || found.markup;
});
const changed = computed(() => own.value !== undefined && markup.value !== own.value.markup);
watch(markup, (now) => (kept.value = changed.value ? now : ""));
const { data: met, error: unmet } = useTried(
  () => props.finding.id,
  () => (markup.value ? { markup: markup.value } : undefined),
);
const trace = computed(
  () => (met.value?.trace ?? []) as unknown as InstanceType<typeof NameTrace>["$props"]["steps"],
);
const { draft } = useCorrections();
const refused = ref<Correction | null>(null);
const apply = useMutation({
  mutationFn: () =>
    draft(props.finding.site, {
      finding: props.finding.id,
      mend: { kind: "rewrite", value: markup.value, says: "Write it anew." },
    }),
  onSuccess: ({ first }) => {
    refused.value = first.state === "drafted" ? null : first;
    if (refused.value) return;
    forget();
    announce(`Drafted: ${first.says}`);
    emit("drafted");
  },
});
</script>

<template>
  <div class="stack tight">
    <Button
      v-if="!trying"
      class="start"
      label="Try other markup here"
      size="small"
      variant="outlined"
      @click="trying = true"
    />
    <template v-else>
      <Message v-if="error" severity="warn">{{ says(error) }}</Message>
      <template v-else-if="own">
        <div class="field">
          <label for="t-markup">Its markup; nothing is kept while you try</label
          ><Textarea
            id="t-markup"
            v-model="markup"
            class="code"
            rows="4"
            spellcheck="false"
            maxlength="20000"
          />
        </div>
        <Message v-if="unmet" severity="warn">{{ says(unmet) }}</Message>
        <TriedLines v-else-if="met" :met="met" />
        <NameTrace :steps="trace" />
        <Message v-if="refused" severity="error" role="alert">{{ refused.problem }}</Message>
        <Message v-if="apply.error.value" severity="error" role="alert">{{
          says(apply.error.value)
        }}</Message>
        <div class="row">
          <Button
            label="Make it a correction"
            :disabled="!changed || Boolean(unmet)"
            :loading="apply.isPending.value"
            @click="apply.mutate()"
          />
          <Button
            label="As it was"
            variant="text"
            :disabled="!changed"
            @click="markup = own.markup"
          />
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.start {
  align-self: start;
}
.code {
  font-family: monospace;
}
</style>
