<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink, type RouteLocationRaw } from "vue-router";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import { session } from "@/session";
import { announce } from "@/use/announcements";

/** The way from registering a site to the gate: what is done, and what is left of each step. Seen by managers until all is done, or until it is put away. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const slug = computed(() => props.site);
const isManager = computed(() => session.me?.role === "manager");
const { data: way } = useQuery({
  queryKey: ["way", slug],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/way", { params: { path: { slug: slug.value } } })),
  enabled: isManager,
});
const PLACES: Record<string, [name: string, query?: Record<string, string>]> = {
  read: ["sweeps"],
  "hand-out": ["causes", { holds: "yes", handed: "no" }],
  "tell-templates": ["causes", { "comes-from": "template", handed: "no" }],
  mend: ["pages"],
  answer: ["review"],
  "publish-statement": ["statement"],
  "switch-gate-on": ["gate"],
};
function to(step: string): RouteLocationRaw | null {
  const place = PLACES[step];
  return place ? { name: place[0], params: { site: props.site }, query: place[1] } : null;
}
const done = computed(() => way.value?.steps.filter((one) => one.is_done).length ?? 0);
const isShown = computed(
  () =>
    isManager.value &&
    way.value !== undefined &&
    !way.value.put_away &&
    done.value < way.value.steps.length,
);
/** The first step that is not done is the one to take now. */
const now = computed(() => way.value?.steps.find((one) => !one.is_done)?.name);
const away = useMutation({
  mutationFn: () =>
    data(
      api.PUT("/api/v1/sites/{slug}/way", {
        params: { path: { slug: slug.value } },
        body: { put_away: true },
      }),
    ),
  onSuccess: () => {
    announce("The way is put away. 'plumrake site way' shows it again.");
    return cache.invalidateQueries({ queryKey: ["way"] });
  },
});
</script>

<template>
  <section v-if="isShown && way" class="card" aria-labelledby="way-title">
    <div class="row spread">
      <h2 id="way-title">Ready this site: {{ done }} of {{ way.steps.length }} steps done</h2>
      <Button label="Put away" size="small" variant="text" @click="away.mutate()" />
    </div>
    <ol>
      <li v-for="step in way.steps" :key="step.name" :class="{ now: step.name === now }">
        <span class="mark" aria-hidden="true">{{ step.is_done ? "✓" : "○" }}</span>
        <RouterLink v-if="!step.is_done && to(step.name)" :to="to(step.name)!">{{
          step.says
        }}</RouterLink><span v-else>{{ step.says }}</span
        ><span class="soft"> {{ step.is_done ? "done" : step.left }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  padding: 3px 0;
}
.mark {
  display: inline-block;
  width: 24px;
  font-weight: 700;
}
.now {
  font-weight: 600;
}
li > .soft {
  font-weight: 400;
  margin-left: 8px;
}
</style>
