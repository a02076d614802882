<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { count, day, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import { session } from "@/session";

const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const waivers = useQuery({
  queryKey: ["waivers", path],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/waivers", {
        params: { path: path.value, query: { limit: 200 } },
      }),
    ),
});
const judgements = useQuery({
  queryKey: ["judgements", path],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/judgements", {
        params: { path: path.value, query: { limit: 200 } },
      }),
    ),
});
const said = ref("");
const end = useMutation({
  mutationFn: (waiver: number) =>
    api.DELETE("/api/v1/sites/{slug}/waivers/{waiver_id}", {
      params: { path: { slug: props.site, waiver_id: waiver } },
    }),
  onSuccess: async () => {
    said.value = "The waiver is over; what it covered counts again.";
    await cache.invalidateQueries({ queryKey: ["waivers"] });
    document.getElementById("w-said")?.focus();
  },
});
const takeBack = useMutation({
  mutationFn: (judgement: number) =>
    api.DELETE("/api/v1/sites/{slug}/judgements/{judgement_id}", {
      params: { path: { slug: props.site, judgement_id: judgement } },
    }),
  onSuccess: async () => {
    said.value = "The judgement is taken back.";
    await cache.invalidateQueries({ queryKey: ["judgements"] });
    document.getElementById("w-said")?.focus();
  },
});
type Waiver = NonNullable<typeof waivers.data.value>["items"][number];
const reach = (waiver: Waiver) =>
  ({
    place: `one place on ${waiver.path}`,
    page: `on ${waiver.path}`,
    cause: "wherever it occurs",
    check: `on ${waiver.pattern}`,
  })[waiver.scope];
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Waivers and judgements</h1>
    <p id="w-said" role="status" tabindex="-1" class="soft">
      {{ said || "What people decided, and until when it holds." }}
    </p>
    <Message v-if="end.error.value ?? takeBack.error.value" severity="error" role="alert">{{
      says(end.error.value ?? takeBack.error.value)
    }}</Message>
    <section class="card" aria-labelledby="waivers-title">
      <div class="row spread">
        <h2 id="waivers-title">Waivers</h2>
        <a
          v-if="waivers.data.value?.items.length"
          :href="`/api/v1/sites/${site}/waivers.csv`"
          download
          >All as CSV</a
        >
      </div>
      <AsyncState
        :loading="waivers.isPending.value"
        :error="waivers.error.value"
        what="the waivers"
        @again="waivers.refetch()"
      >
        <div
          v-if="waivers.data.value?.items.length"
          class="scrolls"
          role="region"
          aria-label="List of waivers"
          tabindex="0"
        >
          <table class="plain">
            <caption class="only-aloud">
              Waivers, the newest first
            </caption>
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">Reach</th>
                <th scope="col">Reason</th>
                <th scope="col">Last day</th>
                <th scope="col">Granted by</th>
                <th scope="col">Covers</th>
                <th v-if="session.me?.role === 'manager'" scope="col">End it</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="waiver in waivers.data.value.items" :key="waiver.id">
                <td>
                  {{ waiver.says }}<br /><span class="soft">{{ waiver.check }}</span>
                </td>
                <td>{{ reach(waiver) }}</td>
                <td>{{ waiver.reason }}</td>
                <td>
                  {{
                    waiver.ended_at ? `over since ${time(waiver.ended_at)}` : day(waiver.ends_on)
                  }}
                </td>
                <td>{{ waiver.granted_by }}</td>
                <td>{{ count(waiver.covers, "finding") }}</td>
                <td v-if="session.me?.role === 'manager'">
                  <Button
                    v-if="!waiver.ended_at"
                    label="End"
                    size="small"
                    variant="outlined"
                    :aria-label="`End the waiver of ${waiver.says}`"
                    @click="end.mutate(waiver.id)"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-else class="soft">None. A waiver is granted from a fix or a finding.</p>
      </AsyncState>
    </section>
    <section class="card" aria-labelledby="judgements-title">
      <h2 id="judgements-title">Judgements</h2>
      <AsyncState
        :loading="judgements.isPending.value"
        :error="judgements.error.value"
        what="the judgements"
        @again="judgements.refetch()"
      >
        <div
          v-if="judgements.data.value?.items.length"
          class="scrolls"
          role="region"
          aria-label="List of judgements"
          tabindex="0"
        >
          <table class="plain">
            <caption class="only-aloud">
              Judgements, the newest first
            </caption>
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">Page</th>
                <th scope="col">Answer</th>
                <th scope="col">Note</th>
                <th scope="col">By</th>
                <th scope="col">Holds</th>
                <th v-if="session.me?.role !== 'reader'" scope="col">Take back</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in judgements.data.value.items" :key="one.id">
                <td>{{ one.says }}</td>
                <td>
                  {{ one.path }} <span class="soft">{{ one.environment }}</span>
                </td>
                <td>{{ one.answer === "fine" ? "is fine" : "is a fault" }}</td>
                <td>{{ one.note }}</td>
                <td>{{ one.judged_by }}, {{ time(one.judged_at) }}</td>
                <td>
                  {{
                    one.lapsed_at
                      ? `lapsed ${time(one.lapsed_at)}: the place changed, answer again`
                      : "yes"
                  }}
                </td>
                <td v-if="session.me?.role !== 'reader'">
                  <Button
                    label="Take back"
                    size="small"
                    variant="outlined"
                    :aria-label="`Take back the judgement of ${one.says} on ${one.path}`"
                    @click="takeBack.mutate(one.id)"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-else class="soft">
          None. Findings that a person has to look at are judged on their own page.
        </p>
      </AsyncState>
    </section>
  </div>
</template>
