<script setup lang="ts">
import { computed } from "vue";

/** One measured fact: a text or figure, a list of them, or the steps of a name's computation. */
type Step = { step: string; element: string; says: string; text: string };
const props = defineProps<{ value: unknown }>();
const rows = computed(() => (Array.isArray(props.value) ? props.value : null));
const steps = computed(() =>
  rows.value?.every((row) => typeof row === "object" && row !== null && "step" in row)
    ? (rows.value as Step[])
    : null,
);
const plain = computed(() =>
  typeof props.value === "boolean" ? (props.value ? "yes" : "no") : String(props.value),
);
</script>

<template>
  <ol v-if="steps?.length" class="rows">
    <li v-for="(step, at) in steps" :key="at">
      {{ step.says }}<template v-if="step.text">: “{{ step.text }}”</template><br /><code>{{
        step.element
      }}</code>
      <span class="soft">(step {{ step.step }})</span>
    </li>
  </ol>
  <template v-else-if="rows && !rows.length">none</template>
  <ul v-else-if="rows" class="rows">
    <li v-for="(row, at) in rows" :key="at">
      {{ typeof row === "object" ? JSON.stringify(row) : row }}
    </li>
  </ul>
  <template v-else>{{ plain }}</template>
</template>

<style scoped>
.rows {
  margin: 0;
  padding-left: 18px;
}
.rows code {
  overflow-wrap: anywhere;
  font-size: 13px;
}
</style>
