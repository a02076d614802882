<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

/** The beginning of a table with its caption and header cells as chosen. Only the words of its cells are taken from the page, never its markup. */
const props = defineProps<{ finding: number; caption: string; way: string | null | undefined }>();
const ROWS = 5;
const COLUMNS = 6;
const { data: own } = useQuery({
  queryKey: ["markup", computed(() => props.finding)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}/markup", {
        params: { path: { finding_id: props.finding } },
      }),
    ),
  retry: false,
  staleTime: 60_000,
});
const rows = computed(() => {
  if (!own.value) return [];
  const inert = new DOMParser().parseFromString(own.value.markup, "text/html");
  return [...inert.querySelectorAll("tr")]
    .slice(0, ROWS)
    .map((row) =>
      [...row.querySelectorAll("td, th")]
        .slice(0, COLUMNS)
        .map((cell) => ({ words: cell.textContent?.trim() ?? "", heads: cell.tagName === "TH" })),
    );
});
const heads = (row: number, column: number, now: boolean) =>
  now ||
  (row === 0 && (props.way === "col" || props.way === "both")) ||
  (column === 0 && (props.way === "row" || props.way === "both"));
/** A table without any header cell is what is at fault: it is not shown again. */
const isHeaded = computed(() =>
  rows.value.some((row, at) => row.some((cell, column) => heads(at, column, cell.heads))),
);
</script>

<template>
  <table v-if="isHeaded" class="plain">
    <caption>
      {{
        caption || "The table's beginning, as it would be"
      }}
    </caption>
    <tbody>
      <tr v-for="(row, at) in rows" :key="at">
        <component
          :is="heads(at, column, cell.heads) ? 'th' : 'td'"
          v-for="(cell, column) in row"
          :key="column"
          :scope="heads(at, column, cell.heads) ? (at === 0 ? 'col' : 'row') : undefined"
          >{{ cell.words }}</component
        >
      </tr>
    </tbody>
  </table>
</template>
