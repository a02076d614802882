<script setup lang="ts">
import { RouterLink } from "vue-router";
import type { components } from "@/api/schema";
import { count } from "@/format";

/** How far a site's sweeps are that wait or run; nothing where none does. */
defineProps<{ site: string; sweeps: components["schemas"]["UnderWay"][] }>();
</script>

<template>
  <p v-for="sweep in sweeps" :key="sweep.sweep_id">
    A sweep of {{ sweep.environment }} is under way:
    <RouterLink :to="{ name: 'sweep', params: { site, sweep: sweep.sweep_id } }">{{
      sweep.total
        ? `${sweep.read + sweep.unreadable} of ${count(sweep.total, "page")} read`
        : "its pages are being found"
    }}</RouterLink>
  </p>
</template>
