<script setup lang="ts">
import { computed, ref, watch } from "vue";

/** The part of a page's picture that shows something; nothing where the page was not pictured. */
const props = defineProps<{
  cut: { reading: number; box: number[] } | null | undefined;
  alt?: string;
}>();
const gone = ref(false);
watch(
  () => props.cut,
  () => (gone.value = false),
);
const source = computed(() => {
  const [x = 0, y = 0, width = 0, height = 0] = props.cut?.box ?? [];
  return props.cut && width > 0 && height > 0
    ? `/api/v1/readings/${props.cut.reading}/cut?x=${x}&y=${y}&width=${width}&height=${height}`
    : "";
});
</script>

<template>
  <img
    v-if="source && !gone"
    :src="source"
    :alt="alt ?? ''"
    loading="lazy"
    @error="gone = true"
  /><span v-else class="soft small none">not pictured</span>
</template>

<style scoped>
img {
  max-width: 100%;
  max-height: 120px;
  border: 1px solid var(--line);
  border-radius: 6px;
  object-fit: contain;
}
.none {
  display: inline-block;
  padding: 8px;
  border: 1px dashed var(--edge);
  border-radius: 6px;
}
</style>
