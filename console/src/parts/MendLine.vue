<script setup lang="ts">
import { computed } from "vue";

/** What a mend says and, where it proposes one, the piece of markup or style to write. */
const props = defineProps<{ mend: Record<string, string> }>();
const written = computed(() => {
  const { kind, attribute, value, property, to, says } = props.mend;
  if (kind === "set-attribute" && attribute && value !== undefined)
    return `${attribute}="${value}"`;
  if (kind === "set-style" && property && value) return `${property}: ${value}`;
  if (kind === "rename-element" && to) return `<${to}>`;
  if (kind === "replace-text" && value && !says?.includes(value)) return value;
  return "";
});
</script>

<template>
  {{ mend.says }} <code v-if="written" class="written">{{ written }}</code>
</template>

<style scoped>
.written {
  overflow-wrap: anywhere;
}
</style>
