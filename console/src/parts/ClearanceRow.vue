<script setup lang="ts">
import { RouterLink } from "vue-router";
import type { Clearance } from "@/api/client";
import AnswerRow from "@/parts/AnswerRow.vue";
import DecisionMark from "@/parts/DecisionMark.vue";

/** A clearance in a list: its answer, the page and why; the slot is what stands at the end. */
defineProps<{
  site: string;
  number: number;
  row: Pick<Clearance, "decision" | "state" | "path" | "reason"> & { overruled_by?: string | null };
}>();
</script>

<template>
  <AnswerRow>
    <template #answer><DecisionMark :clearance="row" /></template>
    <RouterLink
      :to="{ name: 'clearance', params: { site, clearance: number } }"
      :aria-label="`${row.path}, clearance ${number}`"
      >{{ row.path }}</RouterLink
    >
    <p class="soft small">{{ row.reason || "is being read" }}</p>
    <template #who><slot /></template>
  </AnswerRow>
</template>
