<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watchEffect } from "vue";
import { RouterLink, useRouter } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data, uniqueKey } from "@/api/client";
import { ENVIRONMENTS, type Environment } from "@/choices";
import { count, says, stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import EnvironmentFigures from "@/parts/EnvironmentFigures.vue";
import NextStep from "@/parts/NextStep.vue";
import OwnerLoad from "@/parts/OwnerLoad.vue";
import SectionTree from "@/parts/SectionTree.vue";
import SiteWay from "@/parts/SiteWay.vue";
import SinceLast from "@/parts/SinceLast.vue";
import SweepsUnderWay from "@/parts/SweepsUnderWay.vue";
import TermHelp from "@/parts/TermHelp.vue";
import WeightHistory from "@/parts/WeightHistory.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useSite } from "@/use/site";

const props = defineProps<{ site: string }>();
const router = useRouter();
const cache = useQueryClient();
const { text } = useAddress();
const path = computed(() => ({ slug: props.site }));
const { data: shown, isPending, error, refetch } = useSite(() => props.site);
const { data: sweeps } = useQuery({
  queryKey: ["sweeps", path, 100],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/sweeps", {
        params: { path: path.value, query: { limit: 100 } },
      }),
    ),
});
const swept = computed(() => shown.value?.figures ?? []);
/** The environment that all below the headline is about: as chosen, else the one that was read last. */
const environment = computed<Environment>(
  () =>
    (text("environment") as Environment | undefined) ??
    [...swept.value].sort((a, b) => b.sweep_id - a.sweep_id)[0]?.environment ??
    "live",
);
const figures = computed(() => swept.value.find((one) => one.environment === environment.value));
const { data: widest } = useQuery({
  queryKey: ["causes", path, "widest", environment],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/causes", {
        params: {
          path: path.value,
          query: { limit: 6, outcome: "failed", environment: environment.value },
        },
      }),
    ),
});

const toSweep = ref<Environment>("live");
const environments = computed(() =>
  ENVIRONMENTS.filter((one) => one.value === "live" || shown.value?.staging_address),
);
const start = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/sweeps", {
        params: { path: path.value, header: { "Idempotency-Key": uniqueKey() } },
        body: {
          environment: toSweep.value,
          lens: "rendered",
          section: "/",
          changed: false,
          fresh: false,
          paths: [],
        },
      }),
    ),
  onSuccess: async (sweep) => {
    await cache.invalidateQueries({ queryKey: ["sweeps"] });
    await router.push({ name: "sweep", params: { site: props.site, sweep: sweep.id } });
  },
});
const mayStart = computed(() => session.me?.role === "manager");
watchEffect(() => {
  if (shown.value)
    document.head.querySelector("title")!.textContent = `${shown.value.name}, overview – Plum Rake`;
});
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the site" @again="refetch()">
    <div v-if="shown" class="stack">
      <div class="row spread">
        <div>
          <h1 tabindex="-1">{{ shown.name }}</h1>
          <p class="soft">
            <a :href="shown.live_address" rel="noreferrer">The live site</a>
            <template v-if="shown.staging_address">
              and
              <a :href="shown.staging_address" rel="noreferrer">the staging site</a></template
            >
          </p>
          <p v-if="session.areas">
            You are here for {{ session.areas.join(" and ") }}: lists hold these pages alone,
            figures are the whole site's.
          </p>
        </div>
        <form v-if="mayStart" class="row" @submit.prevent="start.mutate()">
          <span id="environment-label">Environment</span>
          <Select
            v-model="toSweep"
            input-id="environment"
            aria-labelledby="environment-label"
            :options="environments"
            option-label="label"
            option-value="value"
          />
          <Button type="submit" label="Start a sweep" :loading="start.isPending.value" />
        </form>
      </div>
      <Message v-if="start.error.value" severity="error" role="alert">{{
        says(start.error.value)
      }}</Message>
      <div v-if="shown.under_way.length" class="card">
        <SweepsUnderWay :site="site" :sweeps="shown.under_way" />
      </div>
      <SiteWay :site="site" />
      <section v-if="!swept.length" class="card" aria-labelledby="first-title">
        <h2 id="first-title">What now</h2>
        <ol>
          <li v-if="!shown.under_way.length">
            Start a sweep: every page is found and read in a browser. It may be stopped and go on
            later.
          </li>
          <li>
            Look at the heaviest causes first: one fault of a template is one line, however many
            pages it is on.
          </li>
          <li>Say under People who answers for which part, and hand the causes out.</li>
        </ol>
      </section>
      <div class="environments">
        <EnvironmentFigures
          v-for="one in swept"
          :key="one.environment"
          :site="site"
          :figures="one"
        />
      </div>
      <nav v-if="swept.length > 1" class="tabs" aria-label="Environment below">
        <RouterLink
          v-for="one in swept"
          :key="one.environment"
          :to="{ query: { environment: one.environment } }"
          :aria-current="one.environment === environment ? 'page' : undefined"
          replace
          >{{ one.environment === "live" ? "Live in detail" : "Staging in detail" }}</RouterLink
        >
      </nav>
      <template v-if="figures">
        <NextStep :site="site" :figures="figures" />
        <SinceLast :site="site" :sweep="figures.sweep_id" />
        <div class="columns">
          <WeightHistory :site="site" :sweeps="sweeps?.items ?? []" :environment="environment" />
          <section v-if="widest?.items.length" class="card" aria-labelledby="widest-title">
            <div class="row spread">
              <div class="titled">
                <h2 id="widest-title">What weighs most</h2>
                <TermHelp term="cause" />
              </div>
              <RouterLink :to="{ name: 'causes', params: { site }, query: { environment } }"
                >All causes, to hand out</RouterLink
              >
            </div>
            <ul class="plain-list widest">
              <li v-for="cause in widest.items" :key="cause.key" class="line">
                <WeightMark :weight="cause.weight" :outcome="cause.outcome" />
                <span
                  ><RouterLink
                    :to="{
                      name: 'cause',
                      params: { site, cause: cause.key },
                      query: { sweep: String(cause.sweep_id) },
                    }"
                    :aria-label="`${cause.says} ${cause.path}, ${cause.selector}`"
                    >{{ cause.says }}</RouterLink
                  >
                  <br /><span class="soft"
                    >{{ count(cause.pages, "page") }},
                    {{
                      cause.fix_id
                        ? `${cause.fix_owner ?? "nobody"}, ${stateName(cause.fix_state!, cause.fix_reopened_after)}`
                        : "not handed out"
                    }}</span
                  ></span
                >
              </li>
            </ul>
          </section>
        </div>
        <section class="card" aria-labelledby="sections-title">
          <div class="titled">
            <h2 id="sections-title">Sections</h2>
            <TermHelp term="section" />
          </div>
          <p class="soft small">Pages ready, then barriers · obstacles · frictions.</p>
          <SectionTree :key="figures.sweep_id" :site="site" :sweep="figures.sweep_id" />
        </section>
      </template>
      <OwnerLoad :site="site" />
      <p class="soft">
        Checks by machine find only part of the barriers; the rest needs people's eyes and ears.
      </p>
    </div>
  </AsyncState>
</template>

<style scoped>
.widest li {
  padding: 5px 0;
}
.environments {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr));
  gap: 20px;
}
</style>
