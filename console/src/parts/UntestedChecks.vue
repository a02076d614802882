<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";

/** The checks that a reading did not make, apart those for which another page was tried that is made of the same. */
const props = defineProps<{
  site: string;
  environment: string;
  lens: string;
  untested: Record<string, string>[];
}>();
const names = (tried: boolean) =>
  props.untested.filter((one) => Boolean(one.tried_at) === tried).map((one) => one.check);
const lacking = computed(() => names(false).join(", "));
const elsewhere = computed(() => names(true).join(", "));
const at = computed(() => props.untested.find((one) => one.tried_at)?.tried_at);
</script>

<template>
  <p v-if="lacking" class="soft small">Not tested: {{ lacking }}</p>
  <p v-if="at" class="soft small">
    {{
      lens === "markup"
        ? "This page was read by its source and style sheets. What only a browser shows was looked at on"
        : "Other layouts and Tab were tried on"
    }}
    <RouterLink :to="{ name: 'page', params: { site }, query: { path: at, environment } }">{{
      at
    }}</RouterLink>, which is made of the same: {{ elsewhere }}
  </p>
</template>
