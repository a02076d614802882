<script setup lang="ts">
import type { components } from "@/api/schema";

/** How an element would be met, and what would be found on its page by then. */
defineProps<{ met: components["schemas"]["TriedMarkup"] }>();
</script>

<template>
  <div role="status" class="stack tight">
    <p v-if="met.role && met.role !== 'document'">
      <strong>{{ met.role }}: “{{ met.name }}”</strong
      >{{ met.exposed ? "" : ", hidden from screen readers" }}
    </p>
    <p v-if="met.heard.length && met.heard.length < 8" class="soft">
      Heard roughly as: <q v-for="(line, at) in met.heard" :key="at">{{ line }}</q>
    </p>
    <ul v-if="met.left.length || met.gone.length || met.brought.length" class="plain-list">
      <li v-for="one in met.left" :key="`left ${one}`" class="bad">✗ still there: {{ one }}</li>
      <li v-for="one in met.gone" :key="`gone ${one}`" class="good">✓ gone: {{ one }}</li>
      <li v-for="one in met.brought" :key="`new ${one}`" class="bad">✗ new: {{ one }}</li>
    </ul>
  </div>
</template>

<style scoped>
q {
  margin-right: 8px;
}
.good {
  color: var(--good);
}
.bad {
  color: var(--barrier-ink);
}
</style>
