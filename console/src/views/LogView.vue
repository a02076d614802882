<script setup lang="ts">
import { useInfiniteQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";

/** What was done in a site, for its managers: who, from where, when, and what it was before. */
const props = defineProps<{ site: string }>();
const KINDS = [
  { label: "Everything", value: "all" },
  { label: "People and roles", value: "member" },
  { label: "Policy and settings", value: "site" },
  { label: "Waivers", value: "waiver" },
  { label: "Overruling of the gate", value: "clearance" },
  { label: "Corrections written", value: "correction" },
  { label: "Connections", value: "connection" },
  { label: "Webhooks", value: "webhook" },
  { label: "Exports", value: "export" },
];
const kind = ref("all");
const {
  data: found,
  isPending,
  error,
  refetch,
  hasNextPage,
  fetchNextPage,
  isFetching,
} = useInfiniteQuery({
  queryKey: ["log", computed(() => props.site), kind],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) =>
    data(
      api.GET("/api/v1/sites/{slug}/log", {
        params: {
          path: { slug: props.site },
          query: { kind: kind.value === "all" ? null : kind.value, after: pageParam },
        },
      }),
    ),
  getNextPageParam: (last) => (last.next ? last.items.at(-1)?.id : undefined),
});
const entries = computed(() => found.value?.pages.flatMap((page) => page.items) ?? []);
type Entry = (typeof entries.value)[number];

const NAMES: Record<string, string> = {
  added: "added",
  changed: "changed",
  gone: "taken away",
  made: "made",
};
const deed = (entry: Entry) => {
  const [what = "", done = ""] = entry.kind.split(".");
  return `${what.replace("-", " ")} ${NAMES[done] ?? done}`;
};
const shown = (value: unknown) =>
  typeof value === "string" ? value : value == null ? "nothing" : JSON.stringify(value);
const changes = (entry: Entry) => {
  const before: Record<string, unknown> = entry.before ?? {};
  const after: Record<string, unknown> = entry.after ?? {};
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter((name) => before[name] != null || after[name] != null)
    .map((name) => ({
      name: name.replaceAll("_", " "),
      was: name in before ? shown(before[name]) : null,
      is: name in after ? shown(after[name]) : null,
    }));
};
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">What was done</h1>
    <p class="soft">
      Who changed what in this site, from where, and what it was before. Entries are only added, and
      each is sealed with the one before it.
    </p>
    <div class="field narrow">
      <label id="l-kind">Show</label
      ><Select
        v-model="kind"
        :options="KINDS"
        option-label="label"
        option-value="value"
        aria-labelledby="l-kind"
      />
    </div>
    <AsyncState :loading="isPending" :error="error" what="the log" @again="refetch()">
      <p v-if="!entries.length" class="card">Nothing of this kind was done yet.</p>
      <div v-else class="scrolls" role="region" aria-label="Log" tabindex="0">
        <table class="plain">
          <caption class="only-aloud">
            What was done
          </caption>
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">What</th>
              <th scope="col">By</th>
              <th scope="col">Before and after</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in entries" :key="one.id">
              <td class="when">{{ time(one.at) }}</td>
              <th scope="row">
                {{ deed(one) }}<span v-if="one.about" class="soft">: {{ one.about }}</span>
              </th>
              <td>
                {{ one.by ?? "Plum Rake" }}
                <span v-if="one.from_address" class="soft small">from {{ one.from_address }}</span>
              </td>
              <td>
                <ul class="plain-list">
                  <li v-for="change in changes(one)" :key="change.name">
                    {{ change.name }}:
                    <template v-if="change.was !== null"
                      ><del>{{ change.was }}</del
                      >{{ change.is !== null ? " " : "" }}</template
                    ><ins v-if="change.is !== null">{{ change.is }}</ins>
                  </li>
                </ul>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="hasNextPage">
        <Button
          label="Show earlier"
          variant="outlined"
          :loading="isFetching"
          @click="fetchNextPage()"
        />
      </div>
    </AsyncState>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 320px;
}
.when {
  white-space: nowrap;
}
th[scope="row"] {
  font-weight: 600;
  text-align: start;
}
td {
  overflow-wrap: anywhere;
}
ins {
  text-decoration: none;
}
</style>
