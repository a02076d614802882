<script setup lang="ts">
import { computed } from "vue";

const props = defineProps<{ text: string }>();
/** Paragraphs and indented examples of a help page; everything is shown as text. */
const blocks = computed(() =>
  props.text.split(/\n{2,}/).map((block) =>
    block.startsWith("    ")
      ? { example: true, parts: [{ code: false, text: block.replace(/^ {4}/gm, "") }] }
      : {
          example: false,
          parts: block
            .replace(/\n/g, " ")
            .split("``")
            .map((text, at) => ({ code: at % 2 === 1, text })),
        },
  ),
);
</script>

<template>
  <template v-for="(block, at) in blocks" :key="at">
    <pre v-if="block.example" tabindex="0">{{ block.parts[0]?.text }}</pre>
    <p v-else>
      <template v-for="(part, index) in block.parts" :key="index"
        ><code v-if="part.code">{{ part.text }}</code
        ><template v-else>{{ part.text }}</template></template
      >
    </p>
  </template>
</template>

<style scoped>
pre {
  overflow: auto;
  background: var(--ground);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 8px 12px;
  margin: 0 0 8px;
}
</style>
