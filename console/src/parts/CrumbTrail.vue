<script setup lang="ts">
import { computed } from "vue";
import { RouterLink, type RouteLocationRaw } from "vue-router";
import { useSite } from "@/use/site";

/** Where this is: the way from the site, by its name, to here. The last step is the page itself. */
const props = defineProps<{ site: string; steps: { says: string; to?: RouteLocationRaw }[] }>();
const { data: shown } = useSite(() => props.site);
const trail = computed(() => [
  {
    says: shown.value?.name ?? props.site,
    to: { name: "site", params: { site: props.site } } as RouteLocationRaw,
  },
  ...props.steps,
]);
</script>

<template>
  <nav aria-label="Where this is" class="soft crumbs">
    <ol class="plain-list">
      <li v-for="step in trail" :key="step.says">
        <RouterLink v-if="step.to" :to="step.to">{{ step.says }}</RouterLink><span
          v-else
          aria-current="page"
          >{{ step.says }}</span
        >
      </li>
    </ol>
  </nav>
</template>

<style scoped>
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}
li + li::before {
  content: "›";
  margin-right: 8px;
}
li {
  overflow-wrap: anywhere;
}
</style>
