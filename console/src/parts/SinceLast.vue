<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";
import { number } from "@/format";

/** What is new, mended, or came back since the sweep before: the first thing to look at in the morning. */
const props = defineProps<{ site: string; sweep: number }>();
const { data: changes } = useQuery({
  queryKey: ["changes", computed(() => props.sweep)],
  queryFn: () =>
    data(
      api.GET("/api/v1/sweeps/{sweep_id}/changes", { params: { path: { sweep_id: props.sweep } } }),
    ),
  retry: false,
  staleTime: 300_000,
});
const KINDS = [
  ["new", "New", "were not there before"],
  ["reopened", "Came back", "had been gone"],
  ["gone", "Mended", "are not there any more"],
] as const;
const of = (kind: string) => changes.value?.figures.filter((one) => one.kind === kind) ?? [];
const total = (kind: string) => of(kind).reduce((sum, one) => sum + one.count, 0);
const split = (kind: string) =>
  of(kind)
    .filter((one) => one.count)
    .map((one) => `${number(one.count)} ${one.weight}`)
    .join(", ");
</script>

<template>
  <section v-if="changes" class="card" aria-labelledby="since-title">
    <h2 id="since-title">Since sweep {{ changes.base_id }}</h2>
    <ul class="plain-list kinds">
      <li v-for="[kind, name, says] in KINDS" :key="kind" :class="kind">
        <RouterLink
          :to="{
            name: 'compare',
            params: { site },
            query: { sweep: String(sweep), against: String(changes.base_id), kind },
          }"
          :aria-label="`${total(kind)} ${name} since sweep ${changes.base_id}`"
          ><span class="big figure">{{ number(total(kind)) }}</span> {{ name }}</RouterLink
        >
        <span class="soft small">{{ says }}{{ total(kind) ? `: ${split(kind)}` : "" }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.kinds {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 14px;
}
li {
  display: grid;
  align-content: start;
  border-left: 5px solid var(--line);
  padding-left: 12px;
}
a {
  font-weight: 600;
}
.big {
  display: block;
  font-size: 26px;
  line-height: 1.2;
}
.new,
.reopened {
  border-color: var(--barrier);
}
.gone {
  border-color: var(--good);
}
</style>
