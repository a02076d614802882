<script setup lang="ts">
/** The filters of a view; on narrow screens they are folded away until they are wanted. */
withDefaults(defineProps<{ label?: string }>(), { label: "Filters" });
defineEmits<{ submit: [] }>();
const isWide = matchMedia("(min-width: 701px)").matches;
</script>

<template>
  <details class="card bar" :open="isWide">
    <summary>{{ label }}</summary>
    <form class="fields" :aria-label="label" @submit.prevent="$emit('submit')"><slot /></form>
  </details>
</template>

<style scoped>
@media (min-width: 701px) {
  summary {
    display: none;
  }
}
@media (max-width: 700px) {
  .bar {
    padding: 6px 14px;
  }
  .bar[open] form {
    padding: 8px 0;
  }
}
</style>
