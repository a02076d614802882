<script lang="ts">
/** A stop of Tab: where it is, and what is wrong about it. */
export interface Stop {
  number: number;
  box: number[] | null;
  faults: string[];
}
</script>

<script setup lang="ts">
import { computed } from "vue";

/** The path of Tab over a page's picture: a line from stop to stop, each with its number. */
const props = defineProps<{
  stops: Stop[];
  size: { width: number; height: number };
  scale: number;
}>();
/** The stops that are on the page; the line goes from number to number, so that no text is crossed out. */
const way = computed(() => props.stops.filter((one) => one.box && one.box[0]! + one.box[2]! > 0));
const corner = (box: number[]) => [box[0]!, box[1]!] as const;
const legs = computed(() =>
  way.value.slice(1).map((one, at) => {
    const [x1, y1] = corner(way.value[at]!.box!);
    const [x2, y2] = corner(one.box!);
    return { x1, y1, x2, y2, key: one.number, bad: one.faults.includes("jumps back") };
  }),
);
</script>

<template>
  <svg
    class="tab-path"
    :viewBox="`0 0 ${size.width} ${size.height}`"
    :width="size.width * scale"
    :height="size.height * scale"
    aria-hidden="true"
  >
    <template v-for="leg in legs" :key="leg.key">
      <line :x1="leg.x1" :y1="leg.y1" :x2="leg.x2" :y2="leg.y2" class="under" />
      <line :x1="leg.x1" :y1="leg.y1" :x2="leg.x2" :y2="leg.y2" :class="{ bad: leg.bad }" />
    </template>
    <g v-for="stop in way" :key="stop.number" :class="{ bad: stop.faults.length }">
      <rect
        :x="stop.box![0]! - 7"
        :y="stop.box![1]! - 7"
        :width="stop.box![2]! + 14"
        :height="stop.box![3]! + 14"
      />
      <circle :cx="stop.box![0]!" :cy="stop.box![1]!" :r="11 / scale" />
      <text :x="stop.box![0]!" :y="stop.box![1]! + 4.5 / scale" :font-size="12 / scale">
        {{ stop.number }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.tab-path {
  position: absolute;
  inset: 0;
}
.tab-path line {
  stroke: #6d2f5e;
  stroke-width: 2;
}
.tab-path .under {
  stroke: #fff;
  stroke-width: 5;
}
.tab-path line.bad {
  stroke: #9c2020;
}
.tab-path rect {
  fill: none;
  stroke: #6d2f5e;
  stroke-width: 2;
}
.tab-path circle {
  fill: #6d2f5e;
  stroke: #fff;
  stroke-width: 1.5;
}
.tab-path text {
  fill: #fff;
  font-family: system-ui, sans-serif;
  font-weight: 700;
  text-anchor: middle;
}
.tab-path .bad rect {
  stroke: #9c2020;
}
.tab-path .bad circle {
  fill: #9c2020;
}
</style>
