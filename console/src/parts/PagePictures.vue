<script setup lang="ts">
import { computed, ref, watch } from "vue";
import Button from "primevue/button";
import type { Finding, PagePictureKind, ReadingInFull } from "@/api/client";
import { says } from "@/format";
import DrawnNote from "@/parts/DrawnNote.vue";
import PagePicture from "@/parts/PagePicture.vue";
import type { Stop } from "@/parts/TabPath.vue";
import { OWN_LAYOUTS, useDrawnPage } from "@/use/drawnPage";

/** The pictures of a page's reading: as it is, and below it as others see it; what is not there yet is drawn when it is wanted. */
const props = defineProps<{
  reading: ReadingInFull;
  path: string;
  findings: Finding[];
  chosen?: number;
  look?: string;
  stops?: Stop[];
}>();
const emit = defineEmits<{ choose: [id: number] }>();
const isWanted = ref(false);
watch(
  () => props.reading.id,
  () => (isWanted.value = false),
);
const can = computed(() => props.reading.status === "read");
const ownLayout = computed(() => OWN_LAYOUTS.find((one) => one === props.look));

const lacksOriginal = computed(() => can.value && !props.reading.picture);
const whole = computed<PagePictureKind | undefined>(() =>
  lacksOriginal.value && (isWanted.value || props.look) ? "whole" : undefined,
);
const special = computed<PagePictureKind | undefined>(() =>
  can.value ? (props.stops ? "focus" : ownLayout.value) : undefined,
);
const id = () => props.reading.id;
const { data: drawnWhole, error: wholeError } = useDrawnPage(id, () => whole.value);
const { data: drawnSpecial, error: specialError } = useDrawnPage(id, () => special.value);

const original = computed(() => props.reading.picture ?? drawnWhole.value?.picture ?? undefined);
const shown = computed(() => {
  const drawn = special.value ? (drawnSpecial.value?.picture ?? undefined) : undefined;
  return ownLayout.value ? drawn : (drawn ?? original.value);
});
const drawing = computed(() =>
  [whole.value && drawnWhole.value, special.value && drawnSpecial.value].flatMap((one) =>
    one ? [one] : [],
  ),
);
const waits = computed(() =>
  Boolean(
    (whole.value && drawnWhole.value?.state !== "ready" && !wholeError.value) ||
    (special.value && drawnSpecial.value?.state !== "ready" && !specialError.value),
  ),
);
const problem = computed(() => {
  const error = (whole.value && wholeError.value) || (special.value && specialError.value);
  if (error) return says(error);
  return drawing.value.find((one) => one.problem)?.problem;
});
</script>

<template>
  <div class="stack">
    <DrawnNote
      :waits="waits"
      :problem="problem"
      :has-changed="drawing.some((one) => one.has_changed)"
    />
    <PagePicture
      v-if="original && look"
      :key="`${reading.id} as it is`"
      :picture="original"
      :path="path"
      :findings="findings"
      :chosen="chosen"
      @choose="(one) => emit('choose', one)"
    />
    <!-- In another layout the marks of the findings are not at their places. -->
    <PagePicture
      v-if="shown"
      :key="`${reading.id} ${shown}`"
      :picture="shown"
      :path="path"
      :findings="ownLayout ? [] : findings"
      :chosen="chosen"
      :look="look"
      :stops="stops"
      @choose="(one) => emit('choose', one)"
    />
    <p v-else-if="!waits && !problem" class="card">
      The sweep took no picture of this page: it shows nothing new that has to be seen.
      <Button v-if="lacksOriginal" label="Draw it" variant="outlined" @click="isWanted = true" />
    </p>
  </div>
</template>
