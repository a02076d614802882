<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Finding } from "@/api/client";
import { count, day, moveName, moverName, stateName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CheckHelp from "@/parts/CheckHelp.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import FindingDecision from "@/parts/FindingDecision.vue";
import LongList from "@/parts/LongList.vue";
import MarkedPicture from "@/parts/MarkedPicture.vue";
import MendLine from "@/parts/MendLine.vue";
import TermHelp from "@/parts/TermHelp.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string; cause: string }>();
const { number } = useAddress();
const sweep = computed(() => number("sweep"));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["cause", computed(() => [props.site, props.cause, sweep.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/causes/{key}", {
        params: { path: { slug: props.site, key: props.cause }, query: { sweep: sweep.value } },
      }),
    ),
});
const { data: best } = useQuery({
  queryKey: ["finding", computed(() => shown.value?.best)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}", {
        params: { path: { finding_id: shown.value!.best } },
      }),
    ),
  enabled: computed(() => shown.value !== undefined),
});
const places = useListing<Finding>(
  () => ["findings", props.site, { cause: props.cause, sweep: shown.value?.sweep_id }],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/findings", {
        params: {
          path: { slug: props.site },
          query: {
            cause: props.cause,
            sweep: shown.value?.sweep_id ?? sweep.value,
            limit: 100,
            ...after,
          },
        },
      }),
    ),
);
const {
  data: history,
  isPending: historyIsPending,
  error: historyError,
  refetch: refetchHistory,
} = useQuery({
  queryKey: ["history", computed(() => [props.site, props.cause])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/history", {
        params: { path: { slug: props.site }, query: { cause: props.cause, limit: 20 } },
      }),
    ),
});
useRowKeys("place");
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the cause" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="site"
        :steps="[
          {
            says: 'Causes',
            to: { name: 'causes', params: { site }, query: sweep ? { sweep: String(sweep) } : {} },
          },
          { says: shown.check },
        ]"
      />
      <div>
        <h1 tabindex="-1" class="lead">{{ shown.says }}</h1>
        <p class="row">
          <WeightMark :weight="shown.weight" :outcome="shown.outcome" /><strong
            >{{ count(shown.places, "place") }} on {{ count(shown.pages, "page") }}</strong
          >
          <span
            >{{ shown.zone
            }}<template v-if="shown.by_template"
              >, printed by the template <TermHelp term="template" /></template
          ></span>
          <span class="soft"
            >first seen {{ day(shown.first_seen_at) }} in sweep {{ shown.first_sweep }}</span
          >
          <RouterLink v-if="shown.fix_id" :to="{ name: 'fix', params: { site, fix: shown.fix_id } }"
            >fix {{ shown.fix_id }}: {{ shown.fix_owner ?? "nobody" }},
            {{ stateName(shown.fix_state!, shown.fix_reopened_after) }}</RouterLink
          ><span v-else class="soft">not handed out</span>
        </p>
      </div>
      <div class="columns">
        <div class="stack">
          <div v-if="best" class="card"><MarkedPicture :key="best.id" :finding="best" /></div>
          <section class="card" aria-labelledby="c-mend">
            <h2 id="c-mend">How to mend it once</h2>
            <ul>
              <li v-for="mend in shown.mends" :key="mend.says"><MendLine :mend="mend" /></li>
            </ul>
            <pre
              class="code"
              tabindex="0"
              role="group"
              aria-label="Markup of the place that shows it best"
              >{{ shown.excerpt }}</pre>
            <p>
              <RouterLink :to="{ name: 'finding', params: { site, finding: shown.best } }"
                >All that was measured at {{ shown.path }}</RouterLink
              >
            </p>
          </section>
        </div>
        <div class="stack">
          <FindingDecision v-if="best" :key="best.id" :finding="best" />
          <section class="card" aria-labelledby="c-history">
            <h2 id="c-history">History</h2>
            <AsyncState
              :loading="historyIsPending"
              :error="historyError"
              what="the history"
              @again="refetchHistory()"
            >
              <ol v-if="history?.items.length" class="timeline">
                <li v-for="event in history.items" :key="event.id">
                  <strong>{{ moverName(event) }}</strong> {{ moveName(event.move) }}
                  <span class="soft">{{ time(event.at) }}</span>
                  <p v-if="event.why">{{ event.why }}</p>
                </li>
              </ol>
              <p v-else class="soft">It was found; nobody did anything with it yet.</p>
            </AsyncState>
          </section>
          <CheckHelp :check="shown.check" />
        </div>
      </div>
      <h2>All places</h2>
      <AsyncState
        :loading="places.isPending.value"
        :error="places.error.value"
        what="the places"
        @again="places.refetch()"
      >
        <LongList
          :rows="places.rows.value"
          :key-of="(one) => one.id"
          :has-more="places.hasMore.value"
          label="Places of this cause"
          @more="places.more"
        >
          <template #default="{ row }"
            ><div class="place">
              <RouterLink
                :to="{ name: 'finding', params: { site, finding: row.id } }"
                :aria-label="`${row.path}, ${row.selector}`"
                >{{ row.path }}</RouterLink
              >
              <span class="soft small"
                >{{ row.title }}{{ row.line ? `, line ${row.line}` : "" }} ·
                <code>{{ row.selector }}</code>{{ row.waiver_id ? " · waived" : "" }}</span
              >
            </div></template
          >
        </LongList>
      </AsyncState>
    </div>
  </AsyncState>
</template>

<style scoped>
.place {
  padding: 8px 18px;
  overflow-wrap: anywhere;
}
</style>
