<script setup lang="ts">
import { useId } from "vue";
import Select from "primevue/select";

/** A labelled choice of one of several; empty means all. */
const chosen = defineModel<string | null | undefined>({ required: true });
withDefaults(
  defineProps<{
    label: string;
    options: { label: string; value: string }[];
    all?: string | null;
    searchable?: boolean;
  }>(),
  { all: "All" },
);
const id = useId();
</script>

<template>
  <div class="field">
    <span :id="id">{{ label }}</span>
    <Select
      :model-value="chosen ?? null"
      :aria-labelledby="id"
      :options="options"
      option-label="label"
      option-value="value"
      :placeholder="all ?? undefined"
      :show-clear="all !== null && Boolean(chosen)"
      :filter="searchable"
      @update:model-value="(value) => (chosen = value)"
    />
  </div>
</template>
