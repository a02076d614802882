<script setup lang="ts">
import { computed } from "vue";

interface Proposal { change: "text" | "background"; colour: string; ratio: number }
interface Facts { text: string; background: string; ratio: number; required: number; font_size: number; font_weight: number; background_from: string; proposals: Proposal[] }
const props = defineProps<{ facts: Record<string, unknown> }>();
const facts = computed(() => props.facts as unknown as Facts);
const pairs = computed(() => [
  { name: "As it is", text: facts.value.text, background: facts.value.background, ratio: facts.value.ratio, passes: false },
  ...facts.value.proposals.map((proposal) => ({
    name: proposal.change === "text" ? "Other text colour" : "Other background",
    text: proposal.change === "text" ? proposal.colour : facts.value.text,
    background: proposal.change === "background" ? proposal.colour : facts.value.background,
    ratio: proposal.ratio, passes: true,
  })),
]);
/** The sample is a picture: its text is shown to be judged by eye, and is not the console's own. */
function sample(text: string, background: string): string {
  const size = Math.min(facts.value.font_size, 30);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="130" height="56"><rect width="130" height="56" fill="${background}"/><text x="65" y="28" text-anchor="middle" dominant-baseline="central" font-family="sans-serif" font-size="${size}" font-weight="${facts.value.font_weight}" fill="${text}">Sample</text></svg>`;
  return `data:image/svg+xml,${encodeURIComponent(svg)}`;
}
</script>

<template>
  <ul class="plain-list pairs">
    <li v-for="pair in pairs" :key="pair.name">
      <img class="swatch" alt="" width="130" height="56" :src="sample(pair.text, pair.background)">
      <span><strong>{{ pair.name }}</strong><br><code>{{ pair.text }}</code> on <code>{{ pair.background }}</code><br>{{ pair.ratio.toFixed(2) }}:1 — {{ pair.passes ? "passes" : `${facts.required}:1 is required` }}</span>
    </li>
  </ul>
  <p class="soft">{{ facts.font_size }} px, weight {{ facts.font_weight }}; the background comes from <code>{{ facts.background_from }}</code></p>
</template>

<style scoped>
.pairs { display: grid; gap: 12px; margin-bottom: 10px; }
li { display: grid; grid-template-columns: 130px 1fr; gap: 14px; align-items: center; }
.swatch { border: 1px solid var(--line); border-radius: 8px; }
</style>
