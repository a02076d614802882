<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import type { Finding } from "@/api/client";
import TabPath, { type Stop } from "@/parts/TabPath.vue";
import { COLOUR_VISION } from "@/terms";

/** A page's picture with a numbered mark for each finding; one of them is chosen. Hidden places are marked at the nearest thing that is seen. */
const props = defineProps<{
  picture: string;
  path: string;
  findings: Finding[];
  chosen?: number;
  look?: string;
  /** The path of Tab is drawn in place of the findings. */
  stops?: Stop[];
}>();
const emit = defineEmits<{ choose: [id: number] }>();
const ZOOMS = [0.25, 0.5, 0.75, 1, 1.5, 2];
const frame = ref<HTMLElement | null>(null);
const size = ref<{ width: number; height: number } | null>(null);
const zoom = ref<number | null>(null); // null: as wide as there is room
const scale = ref(1);

const shownFindings = computed(() => (props.stops ? [] : props.findings));
const marks = computed(() =>
  shownFindings.value.flatMap((finding, at) => {
    const box =
      finding.selector === "html"
        ? null
        : finding.box && finding.visible
          ? finding.box
          : finding.nearest_box;
    return box ? [{ finding, number: at + 1, box, hidden: !finding.visible }] : [];
  }),
);
const kind = (finding: Finding) => (finding.outcome === "cantTell" ? "doubt" : finding.weight);
const place = (box: number[]) => ({
  left: `${(box[0]! - 3) * scale.value}px`,
  top: `${(box[1]! - 3) * scale.value}px`,
  width: `${Math.max(24, (box[2]! + 6) * scale.value)}px`,
  height: `${Math.max(24, (box[3]! + 6) * scale.value)}px`,
});

function fit() {
  if (!frame.value || !size.value) return;
  scale.value = zoom.value ?? Math.min(1, frame.value.clientWidth / size.value.width);
  void nextTick(toChosen);
}
function settle(event: Event) {
  const image = event.target as HTMLImageElement;
  size.value = { width: image.naturalWidth, height: image.naturalHeight };
  fit();
}
function step(by: number) {
  const at = ZOOMS.findIndex((one) => one >= scale.value - 0.01);
  zoom.value =
    ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, (at < 0 ? ZOOMS.length - 1 : at) + by))]!;
  fit();
}
function whole() {
  zoom.value = null;
  fit();
}
function toChosen() {
  const mark = marks.value.find((one) => one.finding.id === props.chosen);
  if (!mark || !frame.value) return;
  const [x = 0, y = 0, width = 0, height = 0] = mark.box.map((one) => one * scale.value);
  frame.value.scrollTo({
    left: x + width / 2 - frame.value.clientWidth / 2,
    top: Math.min(
      y - 24,
      y +
        height / 2 -
        frame.value.clientHeight / 2 +
        Math.max(0, height - frame.value.clientHeight) / 2,
    ),
  });
}
watch(
  () => props.chosen,
  () => void nextTick(toChosen),
);

let held: { x: number; y: number; left: number; top: number } | null = null;
function take(event: PointerEvent) {
  if (!frame.value || event.button !== 0 || (event.target as Element).closest("button")) return;
  held = {
    x: event.clientX,
    y: event.clientY,
    left: frame.value.scrollLeft,
    top: frame.value.scrollTop,
  };
  frame.value.setPointerCapture(event.pointerId);
}
function drag(event: PointerEvent) {
  if (held && frame.value)
    frame.value.scrollTo(held.left - event.clientX + held.x, held.top - event.clientY + held.y);
}
</script>

<template>
  <section
    class="picture"
    :aria-label="look ? 'The page as others see it' : 'The page with its findings marked'"
  >
    <svg v-if="look && COLOUR_VISION[look]" width="0" height="0" aria-hidden="true">
      <filter :id="`seen-${look}`">
        <feColorMatrix type="matrix" :values="COLOUR_VISION[look]" />
      </filter>
    </svg>
    <div class="row tools">
      <button type="button" class="tool" aria-label="Smaller" @click="step(-1)">−</button
      ><button type="button" class="tool" aria-label="Larger" @click="step(1)">+</button
      ><button type="button" class="tool" @click="whole">As wide as fits</button
      ><span class="soft small">{{ Math.round(scale * 100) }} %; drag or scroll to move</span>
    </div>
    <div
      ref="frame"
      class="frame"
      tabindex="0"
      role="group"
      aria-label="Picture of the page, to be scrolled"
      @pointerdown="take"
      @pointermove="drag"
      @pointerup="held = null"
      @pointercancel="held = null"
    >
      <div
        class="sheet"
        :style="
          size
            ? { width: `${size.width * scale}px`, height: `${size.height * scale}px` }
            : undefined
        "
      >
        <img
          :src="`/api/v1/evidence/${picture}`"
          :alt="`The page ${path} as it was read`"
          draggable="false"
          :class="look"
          :style="{
            width: size ? `${size.width * scale}px` : undefined,
            filter: look && COLOUR_VISION[look] ? `url(#seen-${look})` : undefined,
          }"
          @load="settle"
        />
        <TabPath v-if="size && stops" :stops="stops" :size="size" :scale="scale" />
        <button
          v-for="mark in marks"
          :key="mark.finding.id"
          type="button"
          class="mark"
          :class="[kind(mark.finding), { hidden: mark.hidden, chosen: mark.finding.id === chosen }]"
          :style="place(mark.box)"
          :aria-label="`${mark.number}: ${mark.finding.says}${mark.hidden ? ' (not to be seen; marked is what is around it)' : ''}`"
          :aria-pressed="mark.finding.id === chosen"
          @click="emit('choose', mark.finding.id)"
        >
          <span class="number">{{ mark.number }}</span>
        </button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.tools {
  gap: 6px 8px;
  margin-bottom: 8px;
}
.tool {
  min-width: 34px;
  height: 32px;
  padding: 0 10px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
.frame {
  max-height: min(78vh, 900px);
  overflow: auto;
  border: 1px solid var(--edge);
  border-radius: 8px;
  background: var(--ground);
  cursor: grab;
  touch-action: pan-x pan-y;
}
.sheet {
  position: relative;
  overflow: hidden;
}
img {
  display: block;
  user-select: none;
}
img.grey {
  filter: grayscale(1);
}
img.pale {
  filter: contrast(0.45) brightness(1.15);
}
img.blurred {
  filter: blur(2.5px);
}
.mark {
  position: absolute;
  padding: 0;
  border: 3px solid;
  border-radius: 4px;
  background: transparent;
  cursor: pointer;
  min-width: 24px;
  min-height: 24px;
  box-shadow: 0 0 0 2px #fff;
}
.mark.barrier {
  border-color: #9c2020;
}
.mark.obstacle {
  border-color: #8a4b00;
}
.mark.friction {
  border-color: #3e5c76;
}
.mark.doubt {
  border-color: #5b4a8a;
}
.mark.hidden {
  border-style: dashed;
}
.mark.chosen {
  z-index: 2;
  box-shadow:
    0 0 0 3px #fff,
    0 0 0 6px #b0107a;
}
.number {
  position: absolute;
  top: -3px;
  left: -3px;
  min-width: 22px;
  padding: 0 4px;
  border-radius: 3px;
  font:
    700 13px/20px system-ui,
    sans-serif;
  color: #fff;
  background: #2b2430;
}
</style>
