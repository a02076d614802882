<script setup lang="ts">
import type { FindingInFull } from "@/api/client";

/** The organisation's own help for a check, beside ours. */
defineProps<{ help: NonNullable<FindingInFull["own_help"]> }>();
</script>

<template>
  <p class="own">
    <strong>Here:</strong> {{ help.says }}
    <a v-if="help.link" :href="help.link" target="_blank" rel="noopener"
      >Read more at {{ help.link }}</a
    >
  </p>
</template>

<style scoped>
.own {
  border-left: 4px solid var(--plum);
  padding-left: 12px;
  overflow-wrap: anywhere;
}
</style>
