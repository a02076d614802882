<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, data } from "@/api/client";
import { count, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import ClearanceRow from "@/parts/ClearanceRow.vue";
import LongList from "@/parts/LongList.vue";
import { useRowKeys } from "@/use/keys";

/** Pages that are published together: what they would bring and mend, in all, per section, per page. */
const props = defineProps<{ site: string; release: string }>();
const id = computed(() => Number(props.release));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["release", id],
  queryFn: () =>
    data(api.GET("/api/v1/releases/{release_id}", { params: { path: { release_id: id.value } } })),
  refetchInterval: (query) => (query.state.data?.waiting ? 1500 : false),
});
useRowKeys("page");
const ordered = computed(() =>
  [...(shown.value?.pages ?? [])].sort(
    (a, b) =>
      Number(b.decision === "held") - Number(a.decision === "held") || a.path.localeCompare(b.path),
  ),
);
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the release" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="site"
        :steps="[{ says: 'Gate', to: { name: 'gate', params: { site } } }, { says: shown.name }]"
      />
      <h1 tabindex="-1">{{ shown.name }}: {{ shown.decision ?? "being read" }}</h1>
      <p role="status">
        {{
          shown.waiting
            ? `${shown.pages.length - shown.waiting} of ${shown.pages.length} pages are read`
            : `${count(shown.pages.length, "page")}, ${shown.held} held`
        }}. It brings {{ count(shown.brought, "finding") }} and mends {{ shown.mended }};
        {{ shown.before }} were there before.
        <span class="soft">Asked by {{ shown.asked_by }}, {{ time(shown.asked_at) }}</span>
      </p>
      <section class="card" aria-labelledby="r-sections">
        <h2 id="r-sections">By section</h2>
        <div class="scrolls" role="region" aria-label="The release by section" tabindex="0">
          <table class="plain figure">
            <caption class="only-aloud">
              The release by section
            </caption>
            <thead>
              <tr>
                <th scope="col">Section</th>
                <th scope="col">Pages</th>
                <th scope="col">Held</th>
                <th scope="col">Brings</th>
                <th scope="col">Mends</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in shown.sections" :key="one.section">
                <th scope="row">{{ one.section }}</th>
                <td>{{ one.pages }}</td>
                <td>{{ one.held }}</td>
                <td>{{ one.brought }}</td>
                <td>{{ one.mended }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <h2>Pages</h2>
      <LongList
        :rows="ordered"
        :key-of="(one) => one.clearance"
        :has-more="false"
        label="Pages of the release, what is held first"
      >
        <template #default="{ row }"
          ><ClearanceRow :site="site" :number="row.clearance" :row="row"
            ><span class="figure"
              >brings {{ row.brought }}, mends {{ row.mended }}</span
            ></ClearanceRow
          ></template
        >
      </LongList>
    </div>
  </AsyncState>
</template>
