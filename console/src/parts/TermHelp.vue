<script setup lang="ts">
import { useId } from "vue";
import { TERMS, type Term } from "@/terms";

/** A question mark beside a term: press it, and its meaning is said. */
defineProps<{ term: Term }>();
const id = useId();

function place(event: ToggleEvent) {
  const box = event.target as HTMLElement;
  const button = box.previousElementSibling as HTMLElement;
  const { left, bottom } = button.getBoundingClientRect();
  box.style.left = `${Math.max(8, Math.min(left, innerWidth - 328))}px`;
  box.style.top = `${bottom + 6}px`;
}
</script>

<template>
  <span class="term"
    ><button type="button" :popovertarget="id" :aria-label="`What does “${term}” mean?`">?</button
    ><span :id="id" popover class="says" @beforetoggle="place">{{ TERMS[term] }}</span></span
  >
</template>

<style scoped>
button {
  width: 24px;
  height: 24px;
  border-radius: 50%;
  border: 1px solid var(--edge);
  background: var(--paper);
  color: var(--ink);
  font-family: inherit;
  font-size: 13px;
  font-weight: 600;
  line-height: 1;
  cursor: pointer;
  margin-left: 6px;
  vertical-align: 1px;
  padding: 0;
}
.says {
  position: fixed;
  margin: 0;
  max-width: 320px;
  padding: 12px 14px;
  border: 1px solid var(--edge);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font-size: 14px;
  font-weight: 400;
  box-shadow: 0 6px 24px rgb(20 10 25 / 25%);
}
</style>
