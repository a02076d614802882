<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import { api, data, type FindingInFull } from "@/api/client";
import { says } from "@/format";
import DrawnNote from "@/parts/DrawnNote.vue";
import { useDrawnPage } from "@/use/drawnPage";

const props = defineProps<{ finding: FindingInFull }>();
const frame = ref<HTMLElement | null>(null);
const image = ref<HTMLImageElement | null>(null);
const size = ref<{ width: number; height: number } | null>(null);
const whole = ref(false);

const isWanted = ref(false);
const { data: drawn, error } = useDrawnPage(
  () => props.finding.reading_id,
  () => (isWanted.value && !props.finding.picture ? "whole" : undefined),
);
const picture = computed(() => props.finding.picture ?? drawn.value?.picture);
const problem = computed(() => (error.value ? says(error.value) : drawn.value?.problem));

const aboutPage = computed(() => props.finding.selector === "html");
const box = computed(() =>
  aboutPage.value ? null : props.finding.visible ? props.finding.box : props.finding.nearest_box,
);
const source = computed(() => `/api/v1/evidence/${picture.value}`);
const { data: cause } = useQuery({
  queryKey: ["cause", computed(() => [props.finding.sweep_id, props.finding.cause])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/causes/{key}", {
        params: {
          path: { slug: props.finding.site, key: props.finding.cause },
          query: { sweep: props.finding.sweep_id },
        },
      }),
    ),
  enabled: computed(() => !props.finding.picture),
  retry: false,
});
const alike = computed(() => cause.value?.pictures[0]);
const mark = computed(() => {
  if (!box.value || !size.value) return null;
  const [x = 0, y = 0, width = 0, height = 0] = box.value;
  const share = (value: number, of: number) => `${(100 * value) / of}%`;
  return {
    left: share(x - 4, size.value.width),
    top: share(y - 4, size.value.height),
    width: share(width + 8, size.value.width),
    height: share(height + 8, size.value.height),
  };
});

function settle() {
  if (!image.value) return;
  size.value = { width: image.value.naturalWidth, height: image.value.naturalHeight };
  requestAnimationFrame(toPlace);
}

/** Where to scroll to: the place in the middle of the room, or its beginning where it is larger than the room. */
function start(at: number, extent: number, room: number): number {
  return extent < room ? at + extent / 2 - room / 2 : at - 24;
}

function toPlace() {
  if (!frame.value || !image.value || !box.value || !size.value) return;
  const scale = image.value.clientWidth / size.value.width;
  const [x = 0, y = 0, width = 0, height = 0] = box.value;
  frame.value.scrollTo({
    top: start(y * scale, height * scale, frame.value.clientHeight),
    left: start(x * scale, width * scale, frame.value.clientWidth),
  });
}

function zoom() {
  whole.value = !whole.value;
  requestAnimationFrame(toPlace);
}
</script>

<template>
  <section aria-labelledby="picture-title">
    <div class="row spread">
      <h2 id="picture-title">On the page</h2>
      <Button
        v-if="picture"
        :label="whole ? 'Show at full size' : 'Fit the width'"
        size="small"
        variant="text"
        @click="zoom"
      />
    </div>
    <p v-if="aboutPage">This is about the page as a whole.</p>
    <p v-else-if="!finding.visible">
      The place is not to be seen on the page.
      <template v-if="finding.nearest_visible"
        >Marked is the nearest thing around it that is:
        <code>{{ finding.nearest_visible }}</code></template
      >
    </p>
    <div
      v-if="picture"
      ref="frame"
      class="frame"
      tabindex="0"
      role="group"
      aria-label="Picture of the page, to be scrolled"
    >
      <div class="sheet" :class="{ whole }">
        <img
          ref="image"
          :src="source"
          :alt="`The page ${finding.path} as it was read${mark ? ', with the place marked' : ''}`"
          @load="settle"
        />
        <span v-if="mark" class="mark" :class="{ near: !finding.visible }" :style="mark" />
      </div>
    </div>
    <template v-else-if="alike">
      <p class="soft">The same was pictured on another page of this sweep:</p>
      <div class="frame">
        <img :src="`/api/v1/evidence/${alike}`" :alt="`The same fault on ${cause?.path}`" />
      </div>
    </template>
    <p v-else class="soft">The sweep took no picture of this place.</p>
    <DrawnNote
      :waits="isWanted && !picture && !problem"
      :problem="problem"
      :has-changed="drawn?.has_changed ?? false"
    />
    <Button
      v-if="!picture && !isWanted && box"
      label="Draw the page"
      size="small"
      variant="outlined"
      @click="isWanted = true"
    />
  </section>
</template>

<style scoped>
.frame {
  max-height: 460px;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: #fff;
}
.sheet {
  position: relative;
  width: max-content;
}
.sheet.whole {
  width: 100%;
}
.sheet.whole img {
  width: 100%;
}
img {
  display: block;
}
.mark {
  position: absolute;
  border: 3px solid #b0107a;
  border-radius: 4px;
  box-shadow:
    0 0 0 3px #fff,
    0 0 0 2000px rgb(30 20 35 / 22%);
  pointer-events: none;
}
.mark.near {
  border-style: dashed;
}
.sheet {
  overflow: hidden;
}
</style>
