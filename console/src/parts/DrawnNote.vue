<script setup lang="ts">
/** How far the drawing of a page is, and what is to be known of it. */
defineProps<{ waits: boolean; problem?: string; hasChanged: boolean }>();
</script>

<template>
  <p v-if="waits" role="status">The page is being drawn in a browser …</p>
  <p v-if="problem" role="alert">The page could not be drawn: {{ problem }}</p>
  <p v-else-if="hasChanged" class="soft small">
    The page has changed since it was read; it is drawn as it is now.
  </p>
</template>
