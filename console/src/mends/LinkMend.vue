<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import InputText from "primevue/inputtext";
import { api, data, type FindingInFull } from "@/api/client";
import type { Proposal } from "@/mends/proposal";

/** A link's new words, seen in the sentence that they stand in. */
const props = defineProps<{ finding: FindingInFull }>();
const chosen = defineModel<Proposal | null>({ required: true });
const views = ["order", "links"] as const;
const { data: found } = useQuery({
  queryKey: ["page-view", computed(() => [props.finding.reading_id, "sentence"])],
  queryFn: () =>
    Promise.all(
      views.map((name) =>
        data(
          api.GET("/api/v1/readings/{reading_id}/views/{name}", {
            params: { path: { reading_id: props.finding.reading_id, name } },
          }),
        ),
      ),
    ),
  staleTime: Infinity,
});
const link = computed(
  () =>
    found.value?.[1]?.rows.find((row) => row.selector === props.finding.selector) as
      { name: string; target: string } | undefined,
);
const old = computed(
  () => link.value?.name ?? String(props.finding.facts.name ?? props.finding.facts.text ?? ""),
);
/** The block of text that holds the link: the one whose selector is the longest beginning of the link's own. */
const block = computed(() => {
  const rows = (found.value?.[0]?.rows ?? []) as { text: string; selector: string }[];
  const holding = rows.filter(
    (row) =>
      old.value &&
      row.text.includes(old.value) &&
      (props.finding.selector.startsWith(row.selector) ||
        row.selector.startsWith(props.finding.selector)),
  );
  return (
    holding.sort((a, b) => b.selector.length - a.selector.length)[0]?.text ??
    rows.find((row) => old.value && row.text.includes(old.value))?.text ??
    ""
  );
});
const words = ref(chosen.value?.value ?? "");
const around = computed(() => {
  const start = block.value.indexOf(old.value);
  return start < 0
    ? null
    : { before: block.value.slice(0, start), after: block.value.slice(start + old.value.length) };
});
watch(
  words,
  (now) => {
    chosen.value = now.trim()
      ? { kind: "replace-text", value: now.trim(), says: `Let the link read “${now.trim()}”.` }
      : null;
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <p>
      It reads “{{ old || "nothing" }}”<template v-if="link?.target">
        and leads to <code>{{ link.target }}</code></template
      >.
    </p>
    <div class="field">
      <label for="m-link">What it is to read</label
      ><InputText
        id="m-link"
        v-model="words"
        maxlength="300"
        placeholder="Say where it goes, as one would read it alone"
      />
    </div>
    <template v-if="around"
      ><h3>In its sentence</h3>
      <p class="sentence">
        {{ around.before }}<mark>{{ words.trim() || old }}</mark
        >{{ around.after }}
      </p></template
    >
    <h3>Read alone, among the links of the page</h3>
    <p class="sentence">“{{ words.trim() || old }}”</p>
  </div>
</template>

<style scoped>
.sentence {
  border-left: 4px solid var(--plum);
  padding: 6px 14px;
  margin: 0;
  overflow-wrap: anywhere;
}
mark {
  background: var(--soft-plum);
  color: var(--ink);
  text-decoration: underline;
  font-weight: 600;
}
</style>
