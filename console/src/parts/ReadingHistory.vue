<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type ReadingInFull } from "@/api/client";
import { time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import WeightMark from "@/parts/WeightMark.vue";

/** A page's readings over time; what one changed against the one before it of the same environment. */
const props = defineProps<{
  site: string;
  path: string;
  readings: ReadingInFull[];
  shown: ReadingInFull;
}>();
const before = computed(() =>
  props.shown.status === "read"
    ? props.readings.find(
        (one) =>
          one.environment === props.shown.environment &&
          one.id < props.shown.id &&
          one.status === "read",
      )
    : undefined,
);
const KINDS = [
  ["new", "New"],
  ["reopened", "Came back"],
  ["gone", "Gone"],
] as const;
const {
  data: changed,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["page-changes", computed(() => [props.shown.id, before.value?.id])],
  queryFn: async () =>
    Promise.all(
      KINDS.map(async ([kind, says]) => {
        const found = await data(
          api.GET("/api/v1/sweeps/{sweep_id}/changes/findings", {
            params: {
              path: { sweep_id: props.shown.sweep_id },
              query: { kind, against: before.value!.sweep_id, path: props.path, limit: 200 },
            },
          }),
        );
        return { says, items: found.items.filter((one) => one.path === props.path) };
      }),
    ),
  enabled: computed(() => before.value !== undefined),
});
const any = computed(() => changed.value?.some((one) => one.items.length));
</script>

<template>
  <div class="stack tight">
    <div class="scrolls" role="region" aria-label="Readings of this page" tabindex="0">
      <table class="plain figure">
        <caption class="only-aloud">
          Readings of this page, the newest first
        </caption>
        <thead>
          <tr>
            <th scope="col">Read</th>
            <th scope="col">Environment</th>
            <th scope="col">Ready</th>
            <th scope="col">Faults</th>
            <th scope="col">To look at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in readings" :key="one.id" :class="{ here: one.id === shown.id }">
            <td>
              <RouterLink
                :to="{
                  query: {
                    path,
                    environment: one.environment,
                    reading: String(one.id),
                    as: 'readings',
                  },
                }"
                :aria-current="one.id === shown.id ? 'true' : undefined"
                :aria-label="`Reading ${one.id}, ${time(one.read_at)}`"
                >{{ time(one.read_at) }}</RouterLink><span class="soft small">
                sweep {{ one.sweep_id }}{{ one.unchanged ? ", was as before" : "" }}</span
              >
            </td>
            <td>{{ one.environment }}</td>
            <td>{{ one.status === "read" ? (one.ready ? "yes" : "no") : "not read" }}</td>
            <td>{{ one.failed }}</td>
            <td>{{ one.doubtful }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <template v-if="before">
      <h2>Against the reading before, of {{ time(before.read_at) }}</h2>
      <AsyncState :loading="isPending" :error="error" what="what changed" @again="refetch()">
        <p v-if="!any" class="soft">Nothing changed.</p>
        <template v-for="kind in changed" :key="kind.says"
          ><ul v-if="kind.items.length" class="plain-list">
            <li v-for="one in kind.items" :key="one.id" class="line">
              <WeightMark :weight="one.weight" :outcome="one.outcome" /><span
                ><strong>{{ kind.says }}:</strong> {{ one.says }}</span
              >
            </li>
          </ul></template
        >
      </AsyncState>
    </template>
  </div>
</template>

<style scoped>
tr.here td {
  background: var(--soft-plum);
}
.line {
  padding: 4px 0;
}
</style>
