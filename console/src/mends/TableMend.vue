<script setup lang="ts">
import { computed, ref, watch } from "vue";
import InputText from "primevue/inputtext";
import type { Finding } from "@/api/client";
import type { Proposal } from "@/mends/proposal";
import TablePreview from "@/mends/TablePreview.vue";
import ChoiceField from "@/parts/ChoiceField.vue";

/** A table's caption and the direction of its headers. */
const props = defineProps<{ finding: Finding }>();
const chosen = defineModel<Proposal | null>({ required: true });
const WAYS = [
  { label: "The first row names the columns", value: "col" },
  { label: "The first column names the rows", value: "row" },
  { label: "Both", value: "both" },
];
/** Which cells head: those of the first row head the columns. */
const HEADS: Record<string, string> = { col: "row", row: "column", both: "both" };
const kinds = computed(() => new Set(props.finding.mends.map((mend) => mend.kind)));
const both = computed(() => !kinds.value.has("head-table") && !kinds.value.has("insert"));
const caption = ref(chosen.value?.kind === "insert" ? (chosen.value.value ?? "") : "");
const headers = ref<string | null | undefined>(
  chosen.value?.kind === "head-table"
    ? Object.keys(HEADS).find((way) => HEADS[way] === chosen.value?.to)
    : null,
);
const MARKUP: Record<string, string> = {
  col: '<tr> <th scope="col">…</th> <th scope="col">…</th> </tr>',
  row: '<tr> <th scope="row">…</th> <td>…</td> </tr>',
  both: '<tr> <td></td> <th scope="col">…</th> </tr>\n<tr> <th scope="row">…</th> <td>…</td> </tr>',
};
watch(
  [caption, headers],
  () => {
    const words = caption.value.trim();
    const way = headers.value ?? undefined;
    const says = [
      words ? `Give the table the caption “${words}”.` : "",
      way
        ? `${WAYS.find((one) => one.value === way)!.label}: make them header cells with scope.`
        : "",
    ]
      .filter(Boolean)
      .join(" ");
    const markup = [
      "<table>",
      ...(words
        ? [`  <caption>${words.replaceAll("&", "&amp;").replaceAll("<", "&lt;")}</caption>`]
        : []),
      ...(way ? [`  ${MARKUP[way]}`] : []),
      "</table>",
    ].join("\n");
    chosen.value = !says
      ? null
      : way
        ? { kind: "head-table", to: HEADS[way]!, says, markup }
        : { kind: "insert", to: "caption", where: "first", value: words, says, markup };
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <div class="fields">
      <div v-if="both || kinds.has('insert')" class="field grow">
        <label for="m-caption">Caption: what the table shows</label
        ><InputText id="m-caption" v-model="caption" maxlength="300" />
      </div>
      <ChoiceField
        v-if="both || kinds.has('head-table')"
        v-model="headers"
        label="Headers"
        :options="WAYS"
        all="Not said"
      />
    </div>
    <TablePreview :finding="finding.id" :caption="caption.trim()" :way="headers" />
  </div>
</template>
