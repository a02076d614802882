<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink, useRouter } from "vue-router";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import { count, time } from "@/format";
import DraftStrip from "@/mends/DraftStrip.vue";
import MendBench from "@/mends/MendBench.vue";
import TryIt from "@/mends/TryIt.vue";
import AsyncState from "@/parts/AsyncState.vue";
import CheckHelp from "@/parts/CheckHelp.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import EditLink from "@/parts/EditLink.vue";
import MeasuredFacts from "@/parts/MeasuredFacts.vue";
import FindingDecision from "@/parts/FindingDecision.vue";
import MarkedPicture from "@/parts/MarkedPicture.vue";
import NameTrace from "@/parts/NameTrace.vue";
import PageDrafts from "@/parts/PageDrafts.vue";
import StandingMark from "@/parts/StandingMark.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";
import { announce } from "@/use/announcements";
import { made, useCorrectionList } from "@/use/corrections";
import { useKeys } from "@/use/keys";

const props = defineProps<{ site: string; finding: string }>();
const router = useRouter();
const id = computed(() => Number(props.finding));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["finding", id],
  queryFn: () =>
    data(api.GET("/api/v1/findings/{finding_id}", { params: { path: { finding_id: id.value } } })),
});
const { data: onPage } = useQuery({
  queryKey: [
    "findings",
    computed(() => [props.site, "at", shown.value?.path, shown.value?.sweep_id]),
  ],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/findings", {
        params: {
          path: { slug: props.site },
          query: { sweep: shown.value!.sweep_id, at: shown.value!.path, sort: "page", limit: 200 },
        },
      }),
    ),
  enabled: computed(() => shown.value !== undefined),
});
const { data: named } = useQuery({
  queryKey: ["trace", id],
  queryFn: () =>
    data(
      api.GET("/api/v1/readings/{reading_id}/views/{name}", {
        params: {
          path: { reading_id: shown.value!.reading_id, name: "names" },
          query: { selector: shown.value!.selector },
        },
      }),
    ),
  enabled: computed(() => shown.value !== undefined && shown.value.selector !== "html"),
  staleTime: Infinity,
});
interface Named {
  role: string;
  name: string;
  exposed: boolean;
  trace: { step: string; selector: string; says: string; text: string }[];
}
const trace = computed(() => named.value?.rows[0] as unknown as Named | undefined);
const place = computed(() => onPage.value?.items.findIndex((one) => one.id === id.value) ?? -1);
const beside = (step: number) => onPage.value?.items[place.value + step];
const { data: corrected } = useCorrectionList(
  () => props.site,
  () => shown.value && { path: shown.value.path, state: ["drafted", "written"], limit: 200 },
);
/** After a draft the next finding of the page follows that nobody has drafted a mend for; after the last of them, what was drafted is looked at. */
function follow() {
  const done = new Set([id.value, ...(corrected.value?.items ?? []).map((one) => one.finding_id)]);
  const open = (onPage.value?.items ?? []).filter(
    (one) => !done.has(one.id) && ["counts", "doubtful"].includes(one.standing),
  );
  const order = (onPage.value?.items ?? []).findIndex((one) => one.id === id.value);
  const after = open.find((one) => onPage.value!.items.indexOf(one) > order) ?? open[0];
  if (after) go(after);
  else {
    announce("Nothing else on this page is left to mend. Look over what is changed on it.");
    void nextTick(() => document.getElementById("strip-title")?.focus());
  }
}
const wasDrafted = computed(() =>
  [...made.done, ...made.undone].some((one) => one.site === props.site),
);
const next = computed(() => (place.value >= 0 ? beside(1) : undefined));
const before = computed(() => (place.value > 0 ? beside(-1) : undefined));
const go = (to: { id: number } | undefined) => {
  if (to) void router.push({ name: "finding", params: { site: props.site, finding: to.id } });
};
useKeys([
  { keys: "j", says: "next finding on the page", act: () => go(next.value) },
  { keys: "k", says: "finding before on the page", act: () => go(before.value) },
]);

const copied = ref("");
async function copyLink() {
  try {
    await navigator.clipboard.writeText(location.href);
    copied.value = "The link is copied.";
  } catch {
    copied.value =
      "The browser does not let pages copy here; take the address from its address bar.";
  }
}
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the finding" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="site"
        :steps="[
          {
            says: shown.path,
            to: {
              name: 'page',
              params: { site },
              query: {
                path: shown.path,
                reading: String(shown.reading_id),
                finding: String(shown.id),
              },
            },
          },
          { says: shown.check },
        ]"
      />
      <div class="row spread head">
        <div>
          <h1 tabindex="-1" class="lead">{{ shown.says }}</h1>
          <p class="row">
            <WeightMark :weight="shown.weight" :outcome="shown.outcome" /><span>{{
              shown.criteria.length ? `WCAG ${shown.criteria.join(", ")}` : "good practice"
            }}</span>
            <StandingMark :standing="shown.standing" />
            <RouterLink
              v-if="shown.same_cause_places > 1"
              :to="{
                name: 'cause',
                params: { site, cause: shown.cause },
                query: { sweep: String(shown.sweep_id) },
              }"
            >
              same cause in {{ count(shown.same_cause_places, "place") }} on
              {{ count(shown.same_cause_pages, "page") }}
            </RouterLink>
          </p>
        </div>
        <div class="row">
          <span role="status" class="soft">{{ copied }}</span><Button
            v-if="before"
            label="Before"
            size="small"
            variant="text"
            aria-label="Finding before on this page"
            @click="go(before)"
          /><Button
            v-if="next"
            label="Next"
            size="small"
            variant="text"
            aria-label="Next finding on this page"
            @click="go(next)"
          /><Button label="Copy the link" variant="outlined" @click="copyLink" />
        </div>
      </div>
      <DraftStrip v-if="wasDrafted" :site="site" />
      <div class="columns">
        <div class="stack">
          <div class="card"><MarkedPicture :key="shown.id" :finding="shown" /></div>
          <section class="card" aria-labelledby="place-title">
            <h2 id="place-title">The place</h2>
            <dl class="facts">
              <dt>Page</dt>
              <dd>
                {{ shown.address }} ({{ shown.environment }}, read {{ time(shown.read_at) }})
                <a
                  :href="shown.address"
                  rel="noreferrer"
                  :aria-label="`Open the page ${shown.path}`"
                  >Open the page</a
                >
              </dd>
              <template v-if="shown.where"
                ><dt>In the editor</dt>
                <dd>
                  {{ shown.where
                  }}<template v-if="shown.in_editor"
                    >: <strong>{{ shown.in_editor }}</strong></template
                  >
                </dd></template
              >
              <template v-if="shown.item"
                ><dt>Item</dt>
                <dd>
                  {{ shown.item.kind }} “{{ shown.item.title }}” by {{ shown.item.author }}, changed
                  {{ time(shown.item.changed_at) }}
                  <EditLink :address="shown.item.edit" :what="shown.item.title" /></dd
              ></template>
              <dt>Selector</dt>
              <dd>
                <code>{{ shown.selector }}</code>
              </dd>
              <template v-if="shown.line"
                ><dt>Source</dt>
                <dd>line {{ shown.line }}, column {{ shown.column }}</dd></template
              >
              <dt>Markup</dt>
              <dd>
                <pre class="code" tabindex="0" role="group" aria-label="Markup of the place">{{
                  shown.excerpt
                }}</pre>
              </dd>
            </dl>
          </section>
          <MeasuredFacts :facts="shown.facts" />
          <section v-if="trace" class="card" aria-labelledby="trace-title">
            <h2 id="trace-title">Why its name is what it is</h2>
            <p>
              {{ trace.role }}: “{{ trace.name }}”{{
                trace.exposed ? "" : ", hidden from screen readers"
              }}
            </p>
            <NameTrace :steps="trace.trace" />
            <TryIt
              v-if="session.me?.role !== 'reader'"
              :key="`try ${shown.id}`"
              :finding="shown"
              @drafted="follow"
            />
          </section>
        </div>
        <div class="stack">
          <section v-if="shown.question" class="card" aria-labelledby="question-title">
            <h2 id="question-title">What a person has to answer</h2>
            <p>{{ shown.question }}</p>
          </section>
          <MendBench :key="`mend ${shown.id}`" :finding="shown" @drafted="follow" />
          <PageDrafts
            :site="site"
            :path="shown.path"
            :environment="shown.environment as 'live' | 'staging'"
          />
          <FindingDecision :key="shown.id" :finding="shown" />
          <CheckHelp :check="shown.check" :own="shown.own_help" />
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
.head {
  align-items: start;
  flex-wrap: nowrap;
}
.head > :last-child {
  flex-wrap: nowrap;
  flex: none;
}
@media (max-width: 900px) {
  .head,
  .head > :last-child {
    flex-wrap: wrap;
  }
  .head > :last-child {
    flex: 1 1 auto;
    min-width: 0;
  }
}
</style>
