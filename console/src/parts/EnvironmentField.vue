<script setup lang="ts">
import { computed } from "vue";
import { ENVIRONMENTS } from "@/choices";
import ChoiceField from "@/parts/ChoiceField.vue";
import { useSite } from "@/use/site";

/** The choice of one of a site's environments; nothing where it has only one to choose from. */
const chosen = defineModel<string | null | undefined>({ required: true });
const props = defineProps<{ site: string; all?: string | null }>();
const { data: shown } = useSite(() => props.site);
const options = computed(() =>
  ENVIRONMENTS.filter(
    (one) =>
      one.value === "live" ||
      Boolean(shown.value?.staging_address) ||
      shown.value?.figures.some((figures) => figures.environment === one.value),
  ),
);
</script>

<template>
  <ChoiceField
    v-if="options.length > 1"
    v-model="chosen"
    label="Environment"
    :options="options"
    :all="all"
  />
</template>
