<script setup lang="ts">
/** What a manager is to do next with what the newest sweep found, in one line with a link. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Figures } from "@/api/client";
import { count } from "@/format";

const props = defineProps<{ site: string; figures: Figures }>();
const sweep = computed(() => props.figures.sweep_id);
const { data: unowned } = useQuery({
  queryKey: ["causes", computed(() => props.site), "unowned", sweep],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/causes", {
        params: {
          path: { slug: props.site },
          query: {
            limit: 1,
            holding: true,
            handed_out: false,
            sweep: sweep.value,
          },
        },
      }),
    ),
});
const held = computed(() => props.figures.pages - props.figures.ready);
const to = (name: string, query: Record<string, string>) => ({
  name,
  params: { site: props.site },
  query,
});
const step = computed(() => {
  const causes = unowned.value?.total;
  const environment = props.figures.environment;
  if (causes === undefined || causes === null) return undefined;
  const pages = held.value
    ? `${count(held.value, "page")} ${held.value === 1 ? "is" : "are"} not ready`
    : "all pages are ready";
  if (causes)
    return {
      says: `${count(causes, "cause")} that nobody has to mend yet ${causes === 1 ? "holds" : "hold"} pages (${pages}):`,
      link: causes === 1 ? "hand it out" : "hand them out",
      to: to("causes", { environment, holds: "yes", handed: "no" }),
    };
  if (props.figures.doubtful)
    return {
      says: `Nothing that holds a page waits to be handed out; ${pages}. ${count(props.figures.doubtful, "finding")} wait for a person’s eye:`,
      link: "look at them",
      to: to("findings", { sweep: String(sweep.value), outcome: "cantTell" }),
    };
  return held.value
    ? {
        says: `Nothing that holds a page waits to be handed out; ${pages}:`,
        link: "see how far the fixes are",
        to: to("fixes", { environment }),
      }
    : { says: "All pages are ready:", link: "ask the gate", to: to("gate", {}) };
});
</script>

<template>
  <p v-if="step" class="card next">
    <strong>Next:</strong> {{ step.says }} <RouterLink :to="step.to">{{ step.link }}</RouterLink>
  </p>
</template>
