<script setup lang="ts">
import { computed } from "vue";
import type { ShownRow } from "@/use/shownRows";
import { detailOf, nameOf } from "@/use/shownRows";
import CutPicture from "@/parts/CutPicture.vue";

/** What a question is about, taken from the page: pictures in a grid, all else as a numbered list. Each row may be named as a fault. */
const props = defineProps<{
  rows: ShownRow[];
  kind: string;
  reading: number | null;
  mayMark: boolean;
  marked: number[];
}>();
defineEmits<{ mark: [row: number] }>();
const PICTURED = ["pictures", "decorative-pictures", "words-in-pictures"];
const isGrid = computed(() => PICTURED.includes(props.kind));
const cutOf = (row: ShownRow) =>
  props.reading !== null && Array.isArray(row.box)
    ? { reading: props.reading, box: row.box as number[] }
    : null;
</script>

<template>
  <ol class="rows" :class="{ grid: isGrid }" aria-label="What there is to see">
    <li
      v-for="(row, at) in rows"
      :key="at"
      :class="{ marked: marked.includes(at), [`level-${row.level}`]: row.level }"
    >
      <CutPicture v-if="isGrid" :cut="cutOf(row)" />
      <div class="words">
        <p :class="{ heading: row.level }">
          <span class="soft number">{{ at + 1 }}</span> {{ nameOf(row) }}
        </p>
        <table v-if="Array.isArray(row.cells)">
          <caption class="only-aloud">
            {{
              nameOf(row)
            }}, cell by cell
          </caption>
          <thead>
            <tr>
              <th scope="col">Headers</th>
              <th scope="col">Cell</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(cell, number) in row.cells.slice(0, 60)" :key="number">
              <td>{{ cell.headers.join(" · ") || "no header" }}</td>
              <td>{{ cell.text || "empty" }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else-if="detailOf(row)" class="soft small">{{ detailOf(row) }}</p>
      </div>
      <button
        v-if="mayMark"
        type="button"
        class="this"
        :aria-pressed="marked.includes(at)"
        :aria-label="`A fault: ${at + 1}, ${nameOf(row)}`"
        @click="$emit('mark', at)"
      >
        A fault
      </button>
    </li>
  </ol>
</template>

<style scoped>
.rows {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 62vh;
  overflow: auto;
}
li {
  display: flex;
  gap: 10px;
  align-items: start;
  justify-content: space-between;
  padding: 6px 8px;
  border-bottom: 1px solid var(--line);
}
@media (max-width: 900px) {
  .rows {
    max-height: none;
  }
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 12px;
}
.grid li {
  flex-direction: column;
  border: 1px solid var(--line);
  border-radius: 8px;
}
li.marked {
  outline: 3px solid var(--edge);
  outline-offset: -3px;
}
.grid :deep(img) {
  height: 120px;
}
p {
  margin: 0;
}
.number {
  display: inline-block;
  min-width: 26px;
}
.words {
  flex: 1 1 auto;
  min-width: 0;
  overflow-wrap: anywhere;
}
.heading {
  font-weight: 600;
}
.level-2 {
  padding-left: 28px;
}
.level-3 {
  padding-left: 52px;
}
.level-4,
.level-5,
.level-6 {
  padding-left: 76px;
}
table {
  border-collapse: collapse;
  margin-top: 6px;
}
th,
td {
  text-align: left;
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--line);
}
.this {
  min-height: 28px;
  padding: 0 10px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
  flex: none;
}
.this[aria-pressed="true"] {
  background: var(--ink);
  color: var(--paper);
}
</style>
