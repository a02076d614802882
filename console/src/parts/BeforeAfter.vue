<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from "vue";
import type { Correction } from "@/api/client";

/** A place as it is and as it will look, on one slider. */
const props = withDefaults(defineProps<{ correction: Correction; high?: number }>(), {
  high: 220,
});
const frame = ref<HTMLElement | null>(null);
const wide = ref(0);
const share = ref(0);
let watcher: ResizeObserver | undefined;
onMounted(() => {
  watcher = new ResizeObserver(() => (wide.value = frame.value?.clientWidth ?? 0));
  if (frame.value) watcher.observe(frame.value);
});
onUnmounted(() => watcher?.disconnect());

/** How a picture is shifted so that the place lies in the middle of the frame. */
function shift(box: number[] | null) {
  const [x = 0, y = 0, width = 0, height = 0] = box ?? [];
  const left = Math.max(0, width < wide.value / 2 ? x + width / 2 - wide.value / 2 : x - 24);
  const top = Math.max(0, height < props.high ? y + height / 2 - props.high / 2 : y - 20);
  return { transform: `translate(${-Math.round(left)}px, ${-Math.round(top)}px)` };
}
const before = computed(() => shift(props.correction.box_before));
const after = computed(() => shift(props.correction.box_after ?? props.correction.box_before));
const pictures = computed(() =>
  props.correction.picture_before && props.correction.picture_after
    ? [props.correction.picture_before, props.correction.picture_after]
    : null,
);
</script>

<template>
  <div v-if="pictures" class="stack tight">
    <div ref="frame" class="frame" :style="{ height: `${high}px` }">
      <img
        :src="`/api/v1/evidence/${pictures[0]}`"
        :style="before"
        alt="The place as it was read"
      />
      <div class="over" :style="{ clipPath: `inset(0 0 0 ${share}%)` }">
        <img
          :src="`/api/v1/evidence/${pictures[1]}`"
          :style="after"
          alt="The place as it will look"
        />
      </div>
      <span class="line" :style="{ left: `${share}%` }" />
      <span class="badge left" aria-hidden="true">before</span
      ><span class="badge right" aria-hidden="true">after</span>
    </div>
    <input
      v-model.number="share"
      type="range"
      min="0"
      max="100"
      aria-label="How much is shown as it was, the rest as it will look"
      :aria-valuetext="`${share} % before, ${100 - share} % after`"
    />
  </div>
  <p v-else class="soft small">
    There is no picture of this place: the page was read without a browser.
  </p>
</template>

<style scoped>
.frame {
  position: relative;
  overflow: hidden;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: #fff;
}
img {
  position: absolute;
  top: 0;
  left: 0;
  max-width: none;
}
.over {
  position: absolute;
  inset: 0;
  overflow: hidden;
  background: #fff;
}
.line {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 3px;
  margin-left: -1px;
  background: var(--plum);
}
.badge {
  position: absolute;
  bottom: 6px;
  padding: 1px 8px;
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--edge);
  font-size: 13px;
}
.badge.left {
  left: 6px;
}
.badge.right {
  right: 6px;
}
input {
  width: 100%;
  accent-color: var(--plum);
}
</style>
