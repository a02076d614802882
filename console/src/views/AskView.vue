<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data } from "@/api/client";
import { says } from "@/format";
import ChoiceField from "@/parts/ChoiceField.vue";
import { useDraft } from "@/use/drafts";
import { useSite } from "@/use/site";

/** Ask the gate by hand: for a page as it stands in staging, a pasted draft, a fragment, a preview address, or a release. */
const props = defineProps<{ site: string }>();
const router = useRouter();
const cache = useQueryClient();
const GIVEN = [
  { label: "A page as it stands in staging", value: "staging" },
  { label: "A whole page, pasted", value: "document" },
  { label: "A fragment, pasted", value: "fragment" },
  { label: "A preview address", value: "address" },
  { label: "A release: several pages of staging", value: "release" },
];
const LENSES = [
  { label: "In a browser", value: "rendered" },
  { label: "The markup alone", value: "markup" },
];
/** What needs a staging environment; a site without one is not asked about it. */
const OF_STAGING = ["staging", "release"];
const { data: known } = useSite(() => props.site);
const given = computed(() =>
  known.value && !known.value.staging_address
    ? GIVEN.filter((one) => !OF_STAGING.includes(one.value))
    : GIVEN,
);
const givenAs = ref<string | null>("staging");
watch(
  given,
  (now) => {
    if (!now.some((one) => one.value === givenAs.value)) givenAs.value = now[0]!.value;
  },
  { immediate: true },
);
const lens = ref<string | null>("rendered");
const path = useDraft(`ask-path:${props.site}`, "/").words;
const html = useDraft(`ask-html:${props.site}`);
const written = html.words;
const frame = ref("");
const slot = ref("");
const preview = ref("");
const name = ref("");
const paths = useDraft(`ask-paths:${props.site}`);
const listed = paths.words;
const section = ref("");
const isRelease = computed(() => givenAs.value === "release");
const asked = useMutation({
  mutationFn: async () => {
    const slug = props.site;
    if (isRelease.value) {
      const made = await data(
        api.POST("/api/v1/sites/{slug}/releases", {
          params: { path: { slug } },
          body: {
            name: name.value,
            paths: listed.value
              .split("\n")
              .map((one) => one.trim())
              .filter(Boolean),
            section: section.value || null,
            lens: lens.value as "rendered",
          },
        }),
      );
      return { name: "release", params: { site: slug, release: made!.id } };
    }
    const given = {
      document: givenAs.value === "document" ? written.value : null,
      fragment: givenAs.value === "fragment" ? written.value : null,
      address: givenAs.value === "address" ? preview.value : null,
      frame: givenAs.value === "fragment" && frame.value ? frame.value : null,
      slot: givenAs.value === "fragment" && slot.value ? slot.value : null,
    };
    const made = await data(
      api.POST("/api/v1/sites/{slug}/gate", {
        params: { path: { slug } },
        body: { path: path.value, lens: lens.value as "rendered", wait: 0, ...given },
      }),
    );
    return { name: "clearance", params: { site: slug, clearance: made!.id } };
  },
  onSuccess: async (place) => {
    html.forget();
    paths.forget();
    await cache.invalidateQueries({ queryKey: ["clearances"] });
    await router.push(place);
  },
});
</script>

<template>
  <form class="stack" aria-label="Ask the gate" @submit.prevent="asked.mutate()">
    <h1 tabindex="-1">Ask the gate</h1>
    <div class="card stack tight">
      <div class="fields">
        <ChoiceField
          v-model="givenAs"
          label="What is to be published"
          :options="given"
          :all="null"
        /><ChoiceField v-model="lens" label="How it is read" :options="LENSES" :all="null" />
      </div>
      <div v-if="!isRelease" class="field">
        <label for="a-path">Path of the page on the site</label
        ><InputText id="a-path" v-model="path" required pattern="/[^\s#]*" />
      </div>
      <div v-if="givenAs === 'document' || givenAs === 'fragment'" class="field">
        <label for="a-html">HTML</label
        ><Textarea id="a-html" v-model="written" rows="10" required />
      </div>
      <div v-if="givenAs === 'fragment'" class="fields">
        <div class="field">
          <label for="a-frame">Page that it is set into</label
          ><InputText id="a-frame" v-model="frame" placeholder="as the policy says" />
        </div>
        <div class="field">
          <label for="a-slot">Element that holds it (CSS)</label
          ><InputText id="a-slot" v-model="slot" placeholder="as the policy says" />
        </div>
      </div>
      <div v-if="givenAs === 'address'" class="field">
        <label for="a-preview">Preview address, on the site's own hosts</label
        ><InputText id="a-preview" v-model="preview" type="url" required />
      </div>
      <template v-if="isRelease"
        ><div class="field">
          <label for="a-name">Name</label
          ><InputText id="a-name" v-model="name" required maxlength="200" />
        </div>
        <div class="field">
          <label for="a-paths">Paths, one in a line</label
          ><Textarea id="a-paths" v-model="listed" rows="4" />
        </div>
        <div class="field">
          <label for="a-section">or all below</label
          ><InputText id="a-section" v-model="section" placeholder="/visit/" /></div
      ></template>
      <Message v-if="asked.error.value" severity="error" role="alert">{{
        says(asked.error.value)
      }}</Message>
      <div><Button type="submit" label="Ask" :loading="asked.isPending.value" /></div>
    </div>
  </form>
</template>

<style scoped>
form {
  max-width: 820px;
}
:deep(textarea) {
  width: 100%;
}
</style>
