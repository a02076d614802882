<script setup lang="ts">
import { computed, ref } from "vue";
import { usePageView } from "@/use/pageView";
import { plainBlocks } from "@/use/plainBlocks";

/** What a page says without its style sheet, drawn from the reading: nothing of the site runs here. Small, large, wide spaced, without pictures, dark. */
const props = defineProps<{ reading: number }>();
const { data: order } = usePageView(() => props.reading, "order");
const { data: outline } = usePageView(() => props.reading, "outline");
const { data: pictures } = usePageView(() => props.reading, "pictures");
const blocks = computed(() =>
  plainBlocks(order.value?.rows ?? [], outline.value?.rows ?? [], pictures.value?.rows ?? []),
);
const ON = ["small", "large", "spaced", "dark"] as const;
const LABELS = {
  small: "320 px wide",
  large: "Text at 200 %",
  spaced: "Wide spacing",
  dark: "Dark",
} as const;
const chosen = ref<string[]>(["small"]);
const pictured = ref(true);
const cut = (box: number[]) =>
  `/api/v1/readings/${props.reading}/cut?x=${box[0]}&y=${box[1]}&width=${Math.max(1, box[2]!)}&height=${Math.max(1, box[3]!)}`;
</script>

<template>
  <section class="stack tight" aria-labelledby="plain-title">
    <h2 id="plain-title">Without its style sheet</h2>
    <div class="row">
      <label v-for="one in ON" :key="one"
        ><input v-model="chosen" type="checkbox" :value="one" /> {{ LABELS[one] }}</label
      >
      <label><input v-model="pictured" type="checkbox" /> Pictures</label>
    </div>
    <div
      class="plain-page"
      :class="chosen"
      tabindex="0"
      role="group"
      aria-label="The page’s text, to be scrolled"
    >
      <template v-for="(block, at) in blocks" :key="at">
        <p v-if="block.level" class="heading" :class="`of-${block.level}`">{{ block.text }}</p>
        <p v-else-if="block.box && pictured">
          <img
            :src="cut(block.box)"
            :alt="block.text"
            loading="lazy"
            @error="($event.target as HTMLElement).remove()"
          />
        </p>
        <p v-else-if="block.box" class="in-place">
          {{ block.text || "(a picture without a text)" }}
        </p>
        <p v-else>{{ block.text }}</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
label {
  white-space: nowrap;
}
.plain-page {
  max-height: 420px;
  overflow: auto;
  padding: 12px 16px;
  border: 1px solid var(--edge);
  border-radius: 8px;
  background: #fff;
  color: #1b1b1b;
  font-size: 16px;
  overflow-wrap: anywhere;
}
.plain-page.small {
  width: 320px;
  max-width: 100%;
}
.plain-page.large {
  font-size: 32px;
}
.plain-page.spaced {
  line-height: 1.5;
  letter-spacing: 0.12em;
  word-spacing: 0.16em;
}
.plain-page.spaced p {
  margin-bottom: 2em;
}
.plain-page.dark {
  background: #16161a;
  color: #ececec;
}
.plain-page p {
  margin: 0 0 0.6em;
  background: inherit;
}
.heading {
  font-weight: 700;
}
.of-1 {
  font-size: 1.6em;
}
.of-2 {
  font-size: 1.3em;
}
.in-place {
  padding: 4px 8px;
  border: 1px dashed currentcolor;
}
img {
  max-width: 100%;
}
</style>
