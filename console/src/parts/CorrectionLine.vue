<script setup lang="ts">
import { useMutation, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type Correction } from "@/api/client";
import { says, time } from "@/format";
import BeforeAfter from "@/parts/BeforeAfter.vue";
import { session } from "@/session";
import { CORRECTION_LABELS } from "@/terms";
import { useCorrections } from "@/use/corrections";

/** A correction as a plain sentence; opened, with what it looks like, its diff and its history. */
const props = defineProps<{ correction: Correction; withPage?: boolean }>();
const { again, takeBack } = useCorrections();
const open = ref(false);
const { data: full } = useQuery({
  queryKey: ["correction", computed(() => [props.correction.id, props.correction.state])],
  queryFn: () =>
    data(
      api.GET("/api/v1/corrections/{correction_id}", {
        params: { path: { correction_id: props.correction.id } },
      }),
    ),
  enabled: open,
});
const mine = computed(
  () => session.me?.role === "manager" || props.correction.by_id === session.me?.id,
);
const state = computed(() => props.correction.state);
const may = computed(() => ({
  back: mine.value && !["refused", "taken_back"].includes(state.value),
  again: mine.value && ["refused", "conflict", "taken_back"].includes(state.value),
}));
const act = useMutation({
  mutationFn: (how: "back" | "again" | "insist" | "references") =>
    how === "back"
      ? takeBack(props.correction)
      : again(
          props.correction,
          how === "insist" ? { insist: true } : how === "references" ? { as_references: true } : {},
        ),
});
</script>

<template>
  <li class="correction" data-row>
    <div class="row spread top">
      <p>
        <span class="badge" :class="correction.state">{{
          CORRECTION_LABELS[correction.state]
        }}</span>
        {{ correction.says }}
        <RouterLink
          v-if="withPage"
          :to="{
            name: 'page',
            params: { site: correction.site },
            query: { path: correction.path },
          }"
          >{{ correction.path }}</RouterLink
        >
        <span v-if="correction.by_program" class="soft small"
          >written by a program{{ correction.changed_by_person ? " and changed by a person" : "" }},
        </span>
        <span class="soft small"> {{ correction.made_by }}, {{ time(correction.made_at) }}</span>
      </p>
      <div class="row">
        <Button
          :label="open ? 'Close' : 'Look'"
          size="small"
          variant="text"
          :aria-expanded="open"
          :aria-label="`${open ? 'Close' : 'Look at'}: ${correction.says}`"
          @click="open = !open"
        />
        <Button
          v-if="may.again"
          label="Draft again"
          size="small"
          variant="outlined"
          :aria-label="`Draft again: ${correction.says}`"
          :loading="act.isPending.value"
          @click="act.mutate('again')"
        />
        <Button
          v-if="may.back"
          label="Take back"
          size="small"
          variant="outlined"
          severity="secondary"
          :aria-label="`Take back: ${correction.says}`"
          :loading="act.isPending.value"
          @click="act.mutate('back')"
        />
      </div>
    </div>
    <p v-if="correction.problem" class="problem">
      {{ correction.problem }}
      <button
        v-if="correction.may_insist && mine"
        type="button"
        class="bare"
        @click="act.mutate('insist')"
      >
        Draft it all the same
      </button>
      <button
        v-if="correction.may_reference && mine"
        type="button"
        class="bare"
        @click="act.mutate('references')"
      >
        Write references
      </button>
    </p>
    <Message v-if="act.error.value" severity="error" role="alert">{{
      says(act.error.value)
    }}</Message>
    <div v-if="open && full" class="stack tight inside">
      <p class="soft">For: {{ correction.fault }}</p>
      <BeforeAfter v-if="state === 'drafted'" :correction="full" />
      <pre v-if="full.diff" class="code" tabindex="0" role="group" aria-label="What it changes">{{
        full.diff
      }}</pre>
      <ul class="plain-list small">
        <li v-for="event in full.events" :key="event.id">
          {{ time(event.at) }} {{ event.by ?? event.actor }}: {{ CORRECTION_LABELS[event.after]
          }}{{ event.why ? `, ${event.why}` : "" }}
        </li>
      </ul>
    </div>
  </li>
</template>

<style scoped>
.correction {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.correction:last-child {
  border-bottom: 0;
}
.top > p {
  flex: 1 1 20em;
}
.correction p {
  margin: 0;
  overflow-wrap: anywhere;
}
.badge {
  border: 1px solid var(--edge);
  border-radius: 6px;
  padding: 0 8px;
  font-size: 14px;
  font-weight: 600;
}
.badge.proven,
.badge.written {
  border-color: var(--good);
  color: var(--good);
}
.badge.conflict,
.badge.refused {
  border-color: var(--barrier-ink);
  color: var(--barrier-ink);
}
.problem {
  color: var(--barrier-ink);
}
.inside {
  border-left: 4px solid var(--line);
  padding: 6px 0 6px 14px;
  margin-top: 6px;
}
.code {
  max-height: 20em;
  overflow: auto;
}
</style>
