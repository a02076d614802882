<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Finding } from "@/api/client";
import PlainPage from "@/parts/PlainPage.vue";

/** A page's picture as people with low vision see it, and what the checks of zoom found. */
const props = defineProps<{
  site: string;
  reading: number;
  look: string;
  findings: Finding[];
  tried: boolean;
}>();
defineEmits<{ choose: [look: string] }>();
const LOOKS = [
  ["grey", "In grey"],
  ["protan", "Without red cones"],
  ["deutan", "Without green cones"],
  ["tritan", "Without blue cones"],
  ["pale", "Low contrast"],
  ["blurred", "Out of focus"],
  ["narrow", "320 px wide"],
  ["enlarged", "Text at 200 %"],
  ["spaced", "Wide spacing"],
] as const;
const zoomed = computed(() => props.findings.filter((one) => one.check.startsWith("zoom/")));
</script>

<template>
  <div class="stack">
    <p>The page as others see it, below the original:</p>
    <div class="tabs">
      <button
        v-for="[name, label] in LOOKS"
        :key="name"
        type="button"
        :aria-pressed="look === name"
        @click="$emit('choose', name)"
      >
        {{ label }}
      </button>
    </div>
    <PlainPage :reading="reading" />
    <h2>At 320 px wide and with text at 200 %</h2>
    <ul v-if="zoomed.length">
      <li v-for="one in zoomed" :key="one.id">
        <RouterLink :to="{ name: 'finding', params: { site, finding: one.id } }">{{
          one.says
        }}</RouterLink>
      </li>
    </ul>
    <p v-else-if="!tried">
      This reading did not try it: it needs a browser, and time. Read the page again with the
      rendered lens to see.
    </p>
    <p v-else>The checks tried it, and nothing was cut off or had to be scrolled sideways.</p>
  </div>
</template>
