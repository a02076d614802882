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
</script>

<template>
  <ul class="plain-list pairs">
    <li v-for="pair in pairs" :key="pair.name">
      <span class="swatch" aria-hidden="true" :style="{ color: pair.text, background: pair.background, fontSize: `${Math.min(facts.font_size, 30)}px`, fontWeight: facts.font_weight }">Sample</span>
      <span><strong>{{ pair.name }}</strong><br><code>{{ pair.text }}</code> on <code>{{ pair.background }}</code><br>{{ pair.ratio.toFixed(2) }}:1 — {{ pair.passes ? "passes" : `${facts.required}:1 is required` }}</span>
    </li>
  </ul>
  <p class="soft">{{ facts.font_size }} px, weight {{ facts.font_weight }}; the background comes from <code>{{ facts.background_from }}</code></p>
</template>

<style scoped>
.pairs { display: grid; gap: 12px; margin-bottom: 10px; }
li { display: grid; grid-template-columns: 130px 1fr; gap: 14px; align-items: center; }
.swatch { display: grid; place-items: center; height: 56px; border: 1px solid var(--line); border-radius: 8px; }
</style>
