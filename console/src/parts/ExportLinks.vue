<script setup lang="ts">
import { REPORT_FORM_LABELS } from "@/terms";

/** A sweep as a file: links that the browser downloads. */
defineProps<{ site: string; sweep: number }>();
</script>

<template>
  <section class="card" aria-labelledby="export-title">
    <h2 id="export-title">Export</h2>
    <p class="soft">
      All pages of this sweep with what was found, what was waived, and what is new since the sweep
      before.
    </p>
    <ul class="plain-list row">
      <li v-for="(label, form) in REPORT_FORM_LABELS" :key="form">
        <a :href="`/api/v1/sites/${site}/export?as=${form}&sweep=${sweep}`" download>{{ label }}</a>
      </li>
    </ul>
  </section>
</template>
