<script setup lang="ts">
import { computed, defineAsyncComponent } from "vue";
import { RouterLink } from "vue-router";
import type { Sweep } from "@/api/client";
import { number, time } from "@/format";

/** Open faults by weight over a site's sweeps: drawn, and as a table. */
const props = defineProps<{ site: string; sweeps: Sweep[]; environment: string }>();
const WeightChart = defineAsyncComponent(() => import("@/parts/WeightChart.vue"));
const MOST = 12;
const shown = computed(() =>
  props.sweeps
    .filter(
      (sweep) =>
        sweep.state === "done" &&
        sweep.environment === props.environment &&
        sweep.scope !== "given" &&
        sweep.section === "/",
    )
    .slice(0, MOST)
    .reverse(),
);
const label = computed(() => {
  const [first, last] = [shown.value[0], shown.value.at(-1)];
  return `Open faults by weight over ${shown.value.length} sweeps of ${props.environment}: barriers from ${first?.found.barrier ?? 0} to ${last?.found.barrier ?? 0}, obstacles from ${first?.found.obstacle ?? 0} to ${last?.found.obstacle ?? 0}`;
});
</script>

<template>
  <section v-if="shown.length" class="card" aria-labelledby="over-time">
    <h2 id="over-time">Open by weight over time</h2>
    <WeightChart v-if="shown.length > 1" :sweeps="shown" :label="label" />
    <details :open="shown.length < 2">
      <summary>The same in figures</summary>
      <div class="scrolls" role="region" aria-label="Faults by weight, in figures" tabindex="0">
        <table class="plain figure">
          <caption class="only-aloud">
            Faults by weight in the sweeps of
            {{
              environment
            }}, the oldest first
          </caption>
          <thead>
            <tr>
              <th scope="col">Sweep</th>
              <th scope="col">Pages ready</th>
              <th scope="col">Barriers</th>
              <th scope="col">Obstacles</th>
              <th scope="col">Frictions</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="sweep in shown" :key="sweep.id">
              <th scope="row">
                <RouterLink
                  :to="{ name: 'sweep', params: { site, sweep: sweep.id } }"
                  :aria-label="`Sweep ${sweep.id}, in figures`"
                  >{{ sweep.id }}</RouterLink>, {{ time(sweep.created_at) }}
              </th>
              <td>{{ number(sweep.ready) }} of {{ number(sweep.total - sweep.left_out) }}</td>
              <td>{{ number(sweep.found.barrier ?? 0) }}</td>
              <td>{{ number(sweep.found.obstacle ?? 0) }}</td>
              <td>{{ number(sweep.found.friction ?? 0) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </details>
  </section>
</template>
