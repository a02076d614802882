<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, watch } from "vue";
import { useRoute } from "vue-router";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { count, says } from "@/format";

/** Opened by the panel on a staging site: tells that page, and no other site's, what was found on it. */
const props = defineProps<{ site: string }>();
const route = useRoute();
const path = computed(() => String(route.query["path"] ?? "/"));
const isOpened = window.opener !== null;
const params = computed(() => ({ path: { slug: props.site } }));
const { data: site } = useQuery({
  queryKey: ["site", computed(() => props.site)],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: params.value })),
});
const { data: found, error } = useQuery({
  queryKey: ["found", computed(() => [props.site, path.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/found", {
        params: { ...params.value, query: { path: path.value, environment: "staging" } },
      }),
    ),
});
const origin = computed(() =>
  site.value?.staging_address ? new URL(site.value.staging_address).origin : "",
);
watch([found, origin], () => {
  if (!found.value || !origin.value || !isOpened) return;
  const told = JSON.parse(JSON.stringify(found.value.findings)) as unknown; // a plain copy: what Vue watches cannot be sent
  (window.opener as Window).postMessage({ plumrake: { findings: told } }, origin.value);
  window.close();
});
</script>

<template>
  <h1 tabindex="-1">What was found on {{ path }}</h1>
  <p v-if="!isOpened">
    This window belongs to the panel on a staging site. Open it there, with “What was found here?”.
  </p>
  <Message v-else-if="error" severity="error" role="alert">{{ says(error) }}</Message>
  <p v-else-if="site && !origin">This site has no staging address; a manager enters it.</p>
  <p v-else-if="found" role="status">
    {{ count(found.findings.length, "place") }} told to the page at {{ origin }}.
  </p>
  <p v-else role="status">Asking what was found there …</p>
</template>
