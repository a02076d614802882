<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";

const props = defineProps<{ sweep: number; against?: number }>();
const { data: changes } = useQuery({
  queryKey: ["changes", computed(() => [props.sweep, props.against])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sweeps/{sweep_id}/changes", {
        params: { path: { sweep_id: props.sweep }, query: { against: props.against } },
      }),
    ),
});
const KINDS = { new: "New", reopened: "Came back", gone: "Gone", still: "Still there" } as const;
const WEIGHTS = ["barrier", "obstacle", "friction", "doubtful"] as const;
const count = (kind: string, weight: string) =>
  changes.value?.figures.find((one) => one.kind === kind && one.weight === weight)?.count ?? 0;
</script>

<template>
  <section v-if="changes" class="card" aria-labelledby="changes-title">
    <h2 id="changes-title">Since sweep {{ changes.base_id }}</h2>
    <div class="scrolls" role="region" aria-label="What became of the findings" tabindex="0">
      <table class="plain figure">
        <caption class="only-aloud">
          Findings by what became of them
        </caption>
        <thead>
          <tr>
            <th scope="col">Findings</th>
            <th scope="col">Barriers</th>
            <th scope="col">Obstacles</th>
            <th scope="col">Frictions</th>
            <th scope="col">To look at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(words, kind) in KINDS" :key="kind">
            <th scope="row">{{ words }}</th>
            <td v-for="weight in WEIGHTS" :key="weight">{{ count(kind, weight) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <template v-if="changes.pages.length">
      <h3>Pages</h3>
      <ul>
        <li v-for="page in changes.pages.slice(0, 20)" :key="page.path">
          {{ page.path }} <span class="soft">{{ page.kind }}</span>
        </li>
      </ul>
      <p v-if="changes.pages.length > 20" class="soft">
        … and {{ changes.pages.length - 20 }} more
      </p>
    </template>
    <template v-if="changes.causes.length">
      <h3>Causes</h3>
      <ul>
        <li v-for="cause in changes.causes.slice(0, 10)" :key="cause.key">
          {{ cause.says }}
          <span class="soft"
            >{{ cause.kind }}: {{ cause.pages_before }} → {{ cause.pages_now }} pages</span
          >
        </li>
      </ul>
    </template>
  </section>
</template>
