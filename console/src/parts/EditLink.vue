<script setup lang="ts">
/** Leads to where an item is edited in its content system. */
defineProps<{ address: string; what: string }>();
</script>

<template>
  <a
    :href="address"
    target="_blank"
    rel="noopener"
    :aria-label="`Open for editing (new tab): ${what}`"
    >Open for editing</a
  >
</template>
