<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { useMembers } from "@/use/members";

/** Who is to answer: "area" for whoever answers for the pages, "author" for whoever wrote them (both where `byArea`), "none" for nobody, "p12" a person, "g3" a group, "" for not said. */
const chosen = defineModel<string>({ required: true });
const props = defineProps<{
  label: string;
  id: string;
  byArea?: boolean;
  nobody?: boolean;
  anybody?: boolean;
}>();

const { data: people } = useMembers();
const { data: groups } = useQuery({
  queryKey: ["groups"],
  queryFn: () => data(api.GET("/api/v1/groups")),
  staleTime: 60_000,
});
const options = computed(() => [
  ...(props.byArea ? [{ label: "Whoever answers for it", value: "area" }] : []),
  ...(props.byArea ? [{ label: "Whoever wrote the page", value: "author" }] : []),
  ...(props.nobody ? [{ label: "Nobody", value: "none" }] : []),
  ...(groups.value?.items.map((group) => ({
    label: `${group.name} (group)`,
    value: `g${group.id}`,
  })) ?? []),
  ...(people.value?.items
    .filter((one) => one.active && one.role !== "reader")
    .map((one) => ({
      label: [one.name, one.role].filter(Boolean).join(", "),
      value: `p${one.id}`,
    })) ?? []),
]);
</script>

<template>
  <div class="field">
    <span :id="id">{{ label }}</span>
    <Select
      :model-value="chosen || null"
      :placeholder="anybody ? 'Anybody' : undefined"
      :show-clear="anybody"
      :aria-labelledby="id"
      :options="options"
      option-label="label"
      option-value="value"
      filter
      :filter-fields="['label']"
      @update:model-value="(value) => (chosen = value ?? '')"
    />
  </div>
</template>
