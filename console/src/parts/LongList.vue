<script setup lang="ts" generic="Row">
import { useWindowVirtualizer } from "@tanstack/vue-virtual";
import { computed, onMounted, onUpdated, ref, watch } from "vue";

/** A list of any length: only what is on the screen is in the page, and further rows are asked for before the end is reached. */
const props = withDefaults(
  defineProps<{
    rows: Row[];
    keyOf: (row: Row) => string | number;
    hasMore: boolean;
    label: string;
    height?: number;
  }>(),
  { height: 66 },
);
const emit = defineEmits<{ more: [] }>();
const AHEAD = 60;

const list = ref<HTMLElement | null>(null);
const top = ref(0);
const rowsOnScreen = useWindowVirtualizer(
  computed(() => ({
    count: props.rows.length,
    estimateSize: () => props.height,
    overscan: 10,
    scrollMargin: top.value,
    getItemKey: (at: number) => props.keyOf(props.rows[at]!),
  })),
);
const items = computed(() => rowsOnScreen.value.getVirtualItems());
const before = computed(() => (items.value[0]?.start ?? top.value) - top.value);
const after = computed(
  () => rowsOnScreen.value.getTotalSize() - ((items.value.at(-1)?.end ?? top.value) - top.value),
);

function settle() {
  if (list.value) top.value = Math.round(list.value.getBoundingClientRect().top + scrollY);
}
onMounted(settle);
onUpdated(settle);
watch(
  () => items.value.at(-1)?.index,
  (last) => {
    if (props.hasMore && last !== undefined && last >= props.rows.length - AHEAD) emit("more");
  },
  { immediate: true },
);
const measure = (element: unknown) => {
  if (element instanceof HTMLElement) rowsOnScreen.value.measureElement(element);
};
</script>

<template>
  <ul
    ref="list"
    class="plain-list card list"
    :aria-label="label"
    :style="{ paddingTop: `${before}px`, paddingBottom: `${after}px` }"
  >
    <li
      v-for="item in items"
      :key="String(item.key)"
      :ref="measure"
      :data-index="item.index"
      data-row
      :aria-posinset="item.index + 1"
      :aria-setsize="hasMore ? -1 : rows.length"
    >
      <slot :row="rows[item.index]!" :at="item.index" />
    </li>
  </ul>
</template>

<style scoped>
.list {
  padding: 0;
  overflow: clip;
}
li + li {
  border-top: 1px solid var(--line);
}
</style>
