<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";
import { OUTCOMES, WEIGHTS, ZONES } from "@/choices";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";

/** The filters that lists of causes and of findings share; each sets its part of the address. */
defineProps<{
  site: string;
  environment: string | undefined;
  weight: string | undefined;
  outcome: string | undefined;
  zone: string | undefined;
  check: string | undefined;
}>();
const emit = defineEmits<{ set: [Record<string, string | null | undefined>] }>();
const { data: checks } = useQuery({
  queryKey: ["checks"],
  queryFn: () => data(api.GET("/api/v1/checks")),
  staleTime: Infinity,
});
const checkOptions = computed(
  () => checks.value?.items.map((one) => ({ label: one.title, value: one.id })) ?? [],
);
</script>

<template>
  <EnvironmentField
    :model-value="environment"
    :site="site"
    all="Newest sweep"
    @update:model-value="(one) => emit('set', { environment: one, sweep: null })"
  />
  <ChoiceField
    :model-value="weight"
    label="Weight"
    :options="WEIGHTS"
    @update:model-value="(one) => emit('set', { weight: one })"
  />
  <ChoiceField
    :model-value="outcome"
    label="Outcome"
    :options="OUTCOMES"
    @update:model-value="(one) => emit('set', { outcome: one })"
  />
  <ChoiceField
    :model-value="zone"
    label="Zone"
    :options="ZONES"
    @update:model-value="(one) => emit('set', { zone: one })"
  />
  <ChoiceField
    :model-value="check"
    label="Check"
    :options="checkOptions"
    searchable
    @update:model-value="(one) => emit('set', { check: one })"
  />
</template>
