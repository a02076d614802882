<script setup lang="ts">
import { RouterLink } from "vue-router";
import type { Finding } from "@/api/client";
import WeightMark from "@/parts/WeightMark.vue";

/** The findings of a page with the numbers that mark them on its picture. */
defineProps<{ site: string; findings: Finding[]; chosen?: number }>();
defineEmits<{ choose: [id: number] }>();

function about(finding: Finding): string {
  const whole = finding.selector === "html";
  return [
    finding.check + (finding.line ? `, line ${finding.line}` : ""),
    !finding.visible && !whole ? "not to be seen; marked is what is around it" : "",
    whole ? "about the page as a whole" : "",
    finding.waiver_id ? "waived" : "",
    finding.answer ? `judged ${finding.answer}` : "",
  ]
    .filter(Boolean)
    .join(" · ");
}
</script>

<template>
  <ol class="plain-list">
    <li
      v-for="(finding, at) in findings"
      :id="`f-${finding.id}`"
      :key="finding.id"
      class="found"
      :class="{ chosen: finding.id === chosen }"
    >
      <button
        type="button"
        class="number"
        :aria-label="`Mark ${at + 1} on the picture`"
        :aria-pressed="finding.id === chosen"
        @click="$emit('choose', finding.id)"
      >
        {{ at + 1 }}
      </button>
      <div>
        <WeightMark :weight="finding.weight" :outcome="finding.outcome" />
        <RouterLink
          :to="{ name: 'finding', params: { site, finding: finding.id } }"
          :aria-label="`${finding.says} ${at + 1}`"
          >{{ finding.says }}</RouterLink
        >
        <p class="soft small">{{ about(finding) }}</p>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.found {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 10px;
  padding: 9px 6px;
  border-bottom: 1px solid var(--line);
}
.found.chosen {
  background: var(--soft-plum);
}
.number {
  min-width: 30px;
  height: 26px;
  border: 0;
  border-radius: 4px;
  background: #2b2430;
  color: #fff;
  font-size: 13px;
  font-weight: 700;
  line-height: 1;
  font-family: inherit;
  cursor: pointer;
}
</style>
