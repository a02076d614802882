<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";
import HelpText from "@/parts/HelpText.vue";

/** A check's help page: who is hindered, what an editor and what a template developer does. */
const props = defineProps<{ check: string }>();
const parts = computed(() => props.check.split("/"));
const { data: help } = useQuery({
  queryKey: ["check", computed(() => props.check)],
  queryFn: () => data(api.GET("/api/v1/checks/{area}/{slug}", { params: { path: { area: parts.value[0]!, slug: parts.value[1]! } } })),
  enabled: computed(() => parts.value.length === 2),
  staleTime: Infinity,
});
</script>

<template>
  <section v-if="help" class="card" aria-labelledby="help-title">
    <h2 id="help-title">About this check</h2>
    <p class="soft small">{{ help.title }} · {{ help.id }} · {{ help.criteria.length ? `WCAG ${help.criteria.join(", ")}` : "good practice" }}{{ help.act_rule ? ` · ACT rule ${help.act_rule}` : "" }}</p>
    <HelpText :text="help.summary" />
    <template v-for="(body, heading) in help.sections" :key="heading"><h3>{{ heading }}</h3><HelpText :text="body" /></template>
  </section>
</template>
