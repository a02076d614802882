<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import InputText from "primevue/inputtext";
import { api, data, type Finding } from "@/api/client";
import { contrast, isColour, shownRatio } from "@/contrast";
import type { Proposal } from "@/mends/proposal";

/** Two colours with their ratio moving as they are chosen; the nearest that pass, and the palette's pair. */
const props = defineProps<{ finding: Finding }>();
const chosen = defineModel<Proposal | null>({ required: true });
interface Offer {
  change: "text" | "background";
  colour: string;
  ratio: number;
}
interface Facts {
  text: string;
  background: string;
  ratio: number;
  required: number;
  font_size: number;
  font_weight: number;
  background_from: string;
  proposals: Offer[];
  palette_pair?: { text: string; background: string; ratio: number } | null;
}
const facts = computed(() => props.finding.facts as unknown as Facts);
const given = chosen.value;
const pair = given?.kind === "set-colours";
const text = ref(pair || given?.property === "color" ? given!.value! : facts.value.text);
const background = ref(
  pair
    ? given!.to!
    : given?.property === "background-color"
      ? given.value!
      : facts.value.background,
);
const reset = () => {
  text.value = facts.value.text;
  background.value = facts.value.background;
};
const valid = computed(() => isColour(text.value) && isColour(background.value));
const ratio = computed(() => (valid.value ? contrast(text.value, background.value) : 0));
const SIZES = [
  ["Text of this size, AA", () => facts.value.required],
  ["Large text, AA", () => 3],
  ["Any text, AA", () => 4.5],
  ["Any text, AAA", () => 7],
] as const;

const asked = ref({ text: text.value, background: background.value });
let waiting: ReturnType<typeof setTimeout> | undefined;
watch([text, background], () => {
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    if (valid.value) asked.value = { text: text.value, background: background.value };
  }, 250);
});
const { data: advice } = useQuery({
  queryKey: ["advice", computed(() => [asked.value, facts.value.required])],
  queryFn: () =>
    data(
      api.GET("/api/v1/colours", {
        params: { query: { ...asked.value, required: facts.value.required } },
      }),
    ),
  staleTime: Infinity,
});
const offers = computed(() =>
  [...(advice.value?.proposals ?? [])].map((one) => ({
    ...one,
    says: one.change === "text" ? "Nearest text colour" : "Nearest background",
  })),
);

watch(
  [text, background],
  () => {
    if (!valid.value) return;
    const both = text.value !== facts.value.text && background.value !== facts.value.background;
    const rule = `${props.finding.selector} { color: ${text.value}; background-color: ${background.value}; }`;
    if (text.value === facts.value.text && background.value === facts.value.background)
      chosen.value = null;
    else if (text.value !== facts.value.text)
      chosen.value = {
        ...(both
          ? { kind: "set-colours", value: text.value, to: background.value, markup: rule }
          : { kind: "set-style", property: "color", value: text.value }),
        says: `Text ${text.value} on ${background.value}: ${shownRatio(ratio.value)}:1.`,
      };
    else
      chosen.value = {
        kind: "set-style",
        property: "background-color",
        value: background.value,
        says: `Text ${text.value} on ${background.value}: ${shownRatio(ratio.value)}:1.`,
      };
  },
  { flush: "sync" },
);
const take = (one: Offer) => {
  if (one.change === "text") text.value = one.colour;
  else background.value = one.colour;
};

/** The sample is a picture: its text is shown to be judged by eye, and is not the console's own. */
const sample = computed(() => {
  const size = Math.min(facts.value.font_size, 40);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="86"><rect width="320" height="86" fill="${background.value}"/><text x="160" y="43" text-anchor="middle" dominant-baseline="central" font-family="sans-serif" font-size="${size}" font-weight="${facts.value.font_weight}" fill="${text.value}">The quick lock keeper</text></svg>`;
  return `data:image/svg+xml,${encodeURIComponent(svg)}`;
});
</script>

<template>
  <div class="stack tight">
    <div class="try">
      <img class="sample" :src="sample" alt="" width="320" height="86" />
      <p class="ratio" role="status" aria-label="Ratio">
        <strong>{{ shownRatio(ratio) }}:1</strong
        ><span class="soft small"
          >was {{ facts.ratio.toFixed(2) }}:1, {{ facts.required }}:1 is wanted</span
        >
      </p>
    </div>
    <div class="fields">
      <div class="field">
        <label for="m-text">Text</label
        ><span class="row pick"
          ><input v-model="text" type="color" aria-label="Pick the text colour" /><InputText
            id="m-text"
            v-model="text"
            size="small"
            maxlength="7"
        /></span>
      </div>
      <div class="field">
        <label for="m-ground">Background</label
        ><span class="row pick"
          ><input
            v-model="background"
            type="color"
            aria-label="Pick the background colour" /><InputText
            id="m-ground"
            v-model="background"
            size="small"
            maxlength="7"
        /></span>
      </div>
    </div>
    <ul class="plain-list sizes">
      <li v-for="[says, wanted] in SIZES" :key="says">
        <span :class="ratio >= wanted() ? 'pass' : 'fail'">{{
          ratio >= wanted() ? "✓ passes" : "✗ fails"
        }}</span>
        {{ says }}, {{ wanted() }}:1
      </li>
    </ul>
    <div class="row">
      <button
        v-for="one in facts.proposals"
        :key="`${one.change} ${one.colour}`"
        type="button"
        class="offer"
        @click="take(one)"
      >
        <span class="swatch" :style="{ background: one.colour }" />
        {{ one.change === "text" ? "text" : "background" }} {{ one.colour }},
        {{ one.ratio.toFixed(2) }}:1
      </button>
      <button
        v-if="facts.palette_pair"
        type="button"
        class="offer"
        @click="
          text = facts.palette_pair.text;
          background = facts.palette_pair.background;
        "
      >
        <span class="swatch" :style="{ background: facts.palette_pair.text }" /> palette:
        {{ facts.palette_pair.text }} on {{ facts.palette_pair.background }},
        {{ facts.palette_pair.ratio.toFixed(2) }}:1
      </button>
      <button v-if="chosen" type="button" class="offer" @click="reset">As it was</button>
    </div>
    <p v-if="offers.length && ratio < facts.required" class="row">
      <span class="soft small">From these colours the nearest that pass:</span
      ><button
        v-for="one in offers"
        :key="one.change"
        type="button"
        class="offer"
        @click="take(one)"
      >
        <span class="swatch" :style="{ background: one.colour }" /> {{ one.says }} {{ one.colour }}
      </button>
    </p>
    <p class="soft small">
      {{ facts.font_size }} px, weight {{ facts.font_weight }}; the background comes from
      <code>{{ facts.background_from }}</code>
    </p>
  </div>
</template>

<style scoped>
.try {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
  align-items: center;
}
.sample {
  border: 1px solid var(--line);
  border-radius: 8px;
  max-width: 100%;
  height: auto;
}
.ratio strong {
  display: block;
  font-size: 30px;
  line-height: 1.1;
  font-variant-numeric: tabular-nums;
}
.pick input[type="color"] {
  width: 46px;
  height: 42px;
  padding: 2px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--paper);
}
.pick :deep(.p-inputtext) {
  width: 110px;
}
.pass {
  color: var(--good);
  font-weight: 600;
}
.fail {
  color: var(--barrier-ink);
  font-weight: 600;
}
.offer {
  border: 1px solid var(--edge);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 14px;
  padding: 5px 10px;
  cursor: pointer;
}
</style>
