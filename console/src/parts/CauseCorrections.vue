<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { count } from "@/format";
import CorrectionLine from "@/parts/CorrectionLine.vue";
import { useCorrectionList } from "@/use/corrections";

/** How far the corrections are that were made for a cause. */
const props = defineProps<{ site: string; cause: string; environment: "live" | "staging" }>();
const { data: found } = useCorrectionList(
  () => props.site,
  () => ({
    cause: props.cause,
    environment: props.environment,
    state: ["waiting", "drafted", "written", "proven", "conflict"],
    limit: 20,
  }),
);
const rest = computed(() => (found.value?.total ?? 0) - (found.value?.items.length ?? 0));
</script>

<template>
  <section v-if="found?.items.length" class="card" aria-labelledby="of-cause">
    <h2 id="of-cause">Corrections</h2>
    <ul class="plain-list" aria-labelledby="of-cause">
      <CorrectionLine v-for="one in found.items" :key="one.id" :correction="one" with-page />
    </ul>
    <p v-if="rest > 0">
      … and {{ count(rest, "more", "more") }};
      <RouterLink :to="{ name: 'corrections', params: { site } }">all corrections</RouterLink>
    </p>
  </section>
</template>
