<script setup lang="ts">
import { RouterLink, type RouteLocationRaw } from "vue-router";

/** Where this is: the way from the site to here. The last step is the page itself. */
defineProps<{ steps: { says: string; to?: RouteLocationRaw }[] }>();
</script>

<template>
  <nav aria-label="Where this is" class="soft crumbs">
    <ol class="plain-list"><li v-for="step in steps" :key="step.says"><RouterLink v-if="step.to" :to="step.to">{{ step.says }}</RouterLink><span v-else aria-current="page">{{ step.says }}</span></li></ol>
  </nav>
</template>

<style scoped>
ol { display: flex; flex-wrap: wrap; gap: 2px 8px; } li + li::before { content: "›"; margin-right: 8px; } li { overflow-wrap: anywhere; }
</style>
