<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Section } from "@/api/client";
import { number } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";

/** The site's addresses as a tree with figures; a section is opened where one wants to see what is in it. */
const props = withDefaults(defineProps<{ site: string; sweep: number; under?: string }>(), {
  under: "/",
});
const {
  data: found,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["sections", computed(() => [props.site, props.sweep, props.under])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/sections", {
        params: { path: { slug: props.site }, query: { sweep: props.sweep, under: props.under } },
      }),
    ),
  staleTime: 300_000,
});
const open = ref<string[]>([]);
const turn = (path: string) => {
  open.value = open.value.includes(path)
    ? open.value.filter((one) => one !== path)
    : [...open.value, path];
};
const isOpen = (section: Section) => open.value.includes(section.path);
const name = (section: Section) => section.path.slice(props.under.length) || "the page itself";
const listed = (section: Section) => ({
  name: "findings",
  params: { site: props.site },
  query: {
    sweep: String(props.sweep),
    ...(section.path.endsWith("/") && section.has_more
      ? { path: section.path }
      : { at: section.path }),
  },
});
const faults = (section: Section) => section.barriers + section.obstacles + section.frictions;
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the sections" @again="refetch()">
    <ul class="plain-list tree">
      <li v-for="section in found?.items" :key="section.path">
        <div class="step">
          <button
            v-if="section.has_more"
            type="button"
            class="turn"
            :aria-expanded="isOpen(section)"
            :aria-label="`What is in ${section.path}`"
            @click="turn(section.path)"
          >
            {{ isOpen(section) ? "−" : "+" }}</button><span v-else class="turn-room" />
          <RouterLink
            :to="
              section.has_more
                ? {
                    name: 'pages',
                    params: { site },
                    query: { sweep: String(sweep), path: section.path },
                  }
                : { name: 'page', params: { site }, query: { path: section.path } }
            "
            :aria-label="`${name(section)}, ${section.path}`"
            >{{ name(section) }}</RouterLink
          >
          <span class="soft figure"
            >{{ number(section.ready) }} of {{ number(section.pages) }} ready</span
          >
          <RouterLink v-if="faults(section)" class="figure" :to="listed(section)"
            ><span class="n barrier">{{ number(section.barriers) }}</span> ·
            <span class="n obstacle">{{ number(section.obstacles) }}</span> ·
            {{ number(section.frictions)
            }}<span class="only-aloud"> findings in {{ section.path }}</span></RouterLink
          ><span v-else class="clean">clean</span>
        </div>
        <SectionTree
          v-if="isOpen(section) && section.path !== under"
          class="inner"
          :site="site"
          :sweep="sweep"
          :under="section.path"
        />
      </li>
    </ul>
  </AsyncState>
</template>

<style scoped>
.step {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) max-content 110px;
  gap: 4px 12px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
.step > :last-child {
  text-align: right;
}
.turn {
  width: 26px;
  height: 26px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: 600 15px/1 monospace;
  cursor: pointer;
  padding: 0;
}
.inner {
  margin-left: 26px;
}
.clean {
  color: var(--good);
  font-weight: 600;
}
@media (max-width: 600px) {
  .step {
    grid-template-columns: 30px minmax(0, 1fr) max-content;
  }
  .step > :nth-child(3) {
    grid-column: 2;
    grid-row: 2;
  }
}
</style>
