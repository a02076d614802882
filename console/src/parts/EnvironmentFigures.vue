<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Figures } from "@/api/client";
import { count, number, time } from "@/format";
import TermHelp from "@/parts/TermHelp.vue";

const props = defineProps<{ site: string; figures: Figures }>();
const share = computed(() =>
  props.figures.pages ? (100 * props.figures.ready) / props.figures.pages : 0,
);
const findings = (query: Record<string, string>) => ({
  name: "findings",
  params: { site: props.site },
  query: { sweep: String(props.figures.sweep_id), ...query },
});
const open = computed(() => [
  { name: "Barriers", value: props.figures.barriers, kind: "barrier", says: "keep out" },
  { name: "Obstacles", value: props.figures.obstacles, kind: "obstacle", says: "make it hard" },
  { name: "Frictions", value: props.figures.frictions, kind: "friction", says: "slow down" },
]);
</script>

<template>
  <section class="card" :aria-labelledby="`environment-${figures.environment}`">
    <div class="row spread">
      <h2 :id="`environment-${figures.environment}`">
        {{ figures.environment === "live" ? "Live" : "Staging" }}
      </h2>
      <RouterLink :to="{ name: 'sweep', params: { site, sweep: figures.sweep_id } }">
        Sweep {{ figures.sweep_id }}, {{ time(figures.finished_at) }}
      </RouterLink>
    </div>
    <div class="grid">
      <div class="ready">
        <p class="big">
          {{ number(figures.ready) }}
          <span
            >of {{ number(figures.pages) }} pages ready to publish <TermHelp term="ready"
          /></span>
        </p>
        <div class="bar" aria-hidden="true"><div :style="{ width: `${share}%` }" /></div>
        <p v-if="figures.left_out" class="soft">
          {{ number(figures.left_out) }} left out by the policy
        </p>
        <p v-if="figures.unreadable">
          <RouterLink :to="{ name: 'sweep', params: { site, sweep: figures.sweep_id } }"
            >{{ figures.unreadable }} could not be read</RouterLink
          >
        </p>
        <p v-if="figures.waived">
          <RouterLink :to="{ name: 'decisions', params: { site } }"
            >{{ number(figures.waived) }} waived</RouterLink
          >, counted apart
        </p>
      </div>
      <ul class="plain-list weights">
        <li v-for="item in open" :key="item.kind" :class="item.kind">
          <RouterLink
            :to="findings({ weight: item.kind, outcome: 'failed' })"
            :aria-label="`${number(item.value)} ${item.name}, ${figures.environment}`"
            ><span class="figure">{{ number(item.value) }}</span> {{ item.name }}</RouterLink
          >
          <span class="soft small">{{ item.says }}</span>
        </li>
        <li class="doubt">
          <RouterLink
            :to="findings({ outcome: 'cantTell' })"
            :aria-label="`${number(figures.doubtful)} To look at, ${figures.environment}`"
            ><span class="figure">{{ number(figures.doubtful) }}</span> To look at</RouterLink
          >
          <span class="soft small">a person decides</span>
        </li>
      </ul>
      <p v-if="figures.words" class="small">
        <RouterLink
          :to="{ name: 'words', params: { site }, query: { environment: figures.environment } }"
          :aria-label="`${count(figures.words, 'place')} with a word in no dictionary, ${figures.environment}`"
          >{{ count(figures.words, "place") }} with a word in no dictionary</RouterLink
        >, counted apart
      </p>
    </div>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  gap: 14px;
  margin-top: 8px;
}
.big {
  font-size: 38px;
  font-weight: 700;
  line-height: 1.1;
}
.big span {
  font-size: 16px;
  font-weight: 400;
}
.bar {
  height: 12px;
  border-radius: 6px;
  background: var(--track);
  overflow: hidden;
  margin: 6px 0 4px;
}
.bar div {
  height: 100%;
  background: var(--good);
}
.weights {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 12px;
}
.weights li {
  border-left: 5px solid var(--line);
  padding-left: 10px;
  display: grid;
  align-content: start;
}
.weights a {
  font-weight: 600;
}
.weights .figure {
  display: block;
  font-size: 24px;
  line-height: 1.2;
}
.weights .barrier {
  border-color: var(--barrier);
}
.weights .obstacle {
  border-color: var(--obstacle);
}
.weights .friction {
  border-color: var(--friction);
}
.weights .doubt {
  border-color: var(--doubt);
}
</style>
