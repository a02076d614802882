<script setup lang="ts">
import { computed, ref, watch } from "vue";
import InputText from "primevue/inputtext";
import type { FindingInFull } from "@/api/client";
import type { Proposal } from "@/mends/proposal";
import { usePageView } from "@/use/pageView";

/** A page without a main heading: one of its headings becomes it, or a new one is written. */
const props = defineProps<{ finding: FindingInFull }>();
const chosen = defineModel<Proposal | null>({ required: true });
const { data: view } = usePageView(() => props.finding.reading_id, "outline");
const headings = computed(() =>
  ((view.value?.rows ?? []) as unknown as { kind: string; level: number; name: string }[]).filter(
    (row) => row.kind === "heading",
  ),
);
const writing = computed(() =>
  (props.finding.mends as unknown as Proposal[]).find((mend) => mend.kind === "insert"),
);
const at = ref<number | "new" | null>(
  chosen.value?.kind === "insert"
    ? "new"
    : chosen.value?.target
      ? Number(chosen.value.target.split(" ")[1]) - 1
      : null,
);
const words = ref(chosen.value?.value ?? "");
watch(
  [at, words],
  () => {
    const heading = typeof at.value === "number" ? headings.value[at.value] : undefined;
    if (heading)
      chosen.value = {
        kind: "rename-element",
        to: "h1",
        target: `heading ${(at.value as number) + 1}`,
        says: `Make “${heading.name}” the heading of level 1.`,
      };
    else
      chosen.value =
        at.value === "new" && writing.value && words.value.trim()
          ? {
              ...writing.value,
              value: words.value.trim(),
              says: `Write the heading of level 1 “${words.value.trim()}”.`,
            }
          : null;
  },
  { flush: "sync" },
);
</script>

<template>
  <fieldset class="choices stack tight">
    <legend>Which is the page's main heading?</legend>
    <label v-for="(heading, number) in headings.slice(0, 40)" :key="number" class="row"
      ><input
        type="radio"
        name="main"
        :value="number"
        :checked="at === number"
        @change="at = number"
      />
      <span class="badge">h{{ heading.level }}</span> {{ heading.name || "(empty)" }}</label
    >
    <label v-if="writing" class="row"
      ><input type="radio" name="main" value="new" :checked="at === 'new'" @change="at = 'new'" />
      None of them: write one</label
    >
    <div v-if="at === 'new'" class="field">
      <label for="m-main">What the page is about, as its heading</label
      ><InputText id="m-main" v-model="words" maxlength="300" />
    </div>
  </fieldset>
</template>

<style scoped>
.badge {
  min-width: 30px;
  border: 1px solid var(--edge);
  border-radius: 5px;
  font-size: 13px;
  text-align: center;
}
</style>
