<script setup lang="ts">
import { computed } from "vue";
import FactValue from "./FactValue.vue";

/** What was measured at a finding's place, and the comment by which the page's author left it out. */
const props = defineProps<{ facts: Record<string, unknown> }>();
const APART = ["proposals", "left_here"];
const measured = computed(() =>
  Object.entries(props.facts).filter(
    ([name, value]) => value !== null && value !== "" && !APART.includes(name),
  ),
);
</script>

<template>
  <section v-if="facts.left_here" class="card" aria-labelledby="left-title">
    <h2 id="left-title">Left out by the page's author</h2>
    <p>A comment in the page says: “{{ facts.left_here }}”.</p>
    <p class="soft">It counts here all the same, until somebody grants a waiver for it.</p>
  </section>
  <section v-if="measured.length" class="card" aria-labelledby="facts-title">
    <h2 id="facts-title">What was measured</h2>
    <dl class="facts">
      <template v-for="[name, value] in measured" :key="name"
        ><dt>{{ name.replaceAll("_", " ") }}</dt>
        <dd><FactValue :value="value" /></dd
      ></template>
    </dl>
  </section>
</template>
