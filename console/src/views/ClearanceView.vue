<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, type Finding } from "@/api/client";
import { says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import DecisionMark from "@/parts/DecisionMark.vue";
import JudgedList from "@/parts/JudgedList.vue";
import PagePicture from "@/parts/PagePicture.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useDraft } from "@/use/drafts";
import { useRowKeys } from "@/use/keys";

const props = defineProps<{ site: string; clearance: string }>();
const cache = useQueryClient();
const { text, set } = useAddress();
const id = computed(() => Number(props.clearance));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["clearance", id],
  queryFn: () =>
    data(
      api.GET("/api/v1/clearances/{clearance_id}", {
        params: { path: { clearance_id: id.value } },
      }),
    ),
  refetchInterval: (query) => (query.state.data?.state === "waiting" ? 800 : false),
});
const GIVEN = {
  address: "at a preview address",
  document: "as a whole page",
  fragment: "as a fragment in its page frame",
  staging: "as it stands in staging",
};
/** The findings as the picture marks them: numbered as in the list beside it. */
const marked = computed(() =>
  (shown.value?.judged ?? []).map(
    (one, at) => ({ ...one, id: at + 1, nearest_box: null }) as unknown as Finding,
  ),
);
const chosen = computed(() => text("finding"));
const chosenAt = computed(
  () =>
    (shown.value?.judged.findIndex((one) => one.place_key === chosen.value) ?? -1) + 1 || undefined,
);
async function choose(key: string) {
  await set({ finding: key });
  await nextTick();
  document.getElementById(`j-${key}`)?.scrollIntoView({ block: "nearest" });
}
useRowKeys("finding");
const { words, forget } = useDraft(`overrule:${props.clearance}`);
const overrule = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/clearances/{clearance_id}/overruling", {
        params: { path: { clearance_id: id.value } },
        body: { why: words.value },
      }),
    ),
  onSuccess: async (after) => {
    forget();
    cache.setQueryData(["clearance", id.value], after);
    await cache.invalidateQueries({ queryKey: ["clearances"] });
    await nextTick();
    document.getElementById("overruled")?.focus();
  },
});
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the clearance" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="site"
        :steps="[
          { says: 'Gate', to: { name: 'gate', params: { site } } },
          { says: `Clearance ${shown.id}` },
        ]"
      />
      <div>
        <div class="titled">
          <h1 tabindex="-1">
            {{ shown.path }}: {{ shown.state === "waiting" ? "being read" : shown.decision }}
          </h1>
          <TermHelp term="clearance" />
        </div>
        <p class="row">
          <DecisionMark :clearance="shown" /><span role="status">{{
            shown.state === "waiting" ? "The page is being read …" : shown.reason
          }}</span>
        </p>
      </div>
      <section class="card" aria-labelledby="g-facts">
        <h2 id="g-facts">What was asked</h2>
        <dl class="facts">
          <dt>Page</dt>
          <dd>
            {{ shown.title || "no title" }}, {{ GIVEN[shown.given_as] }} ({{
              shown.lens === "rendered" ? "in a browser" : "the markup alone"
            }})
            <RouterLink :to="{ name: 'page', params: { site }, query: { path: shown.path } }"
              >its readings</RouterLink
            >
          </dd>
          <dt>Asked by</dt>
          <dd>
            {{ shown.asked_by }}, {{ time(shown.asked_at)
            }}{{ shown.seconds != null ? `, answered in ${shown.seconds.toFixed(1)} s` : "" }}
          </dd>
          <template v-if="shown.content_hash"
            ><dt>Content</dt>
            <dd>
              <code>{{ shown.content_hash }}</code>
            </dd></template
          >
          <template v-if="shown.valid_until"
            ><dt>Good until</dt>
            <dd>
              {{ time(shown.valid_until)
              }}{{ shown.used_at ? `, published ${time(shown.used_at)}` : "" }}
            </dd></template
          >
          <template v-if="shown.release_id"
            ><dt>Release</dt>
            <dd>
              <RouterLink :to="{ name: 'release', params: { site, release: shown.release_id } }"
                >Release {{ shown.release_id }}</RouterLink
              >
            </dd></template
          >
          <template v-if="shown.untested.length"
            ><dt>Not tested</dt>
            <dd>{{ shown.untested.map((one) => one.check).join(", ") }}</dd></template
          >
        </dl>
        <p v-if="shown.overruled_by" id="overruled" tabindex="-1">
          <strong>Overruled by {{ shown.overruled_by }}</strong
          >, {{ time(shown.overruled_at!) }}: {{ shown.overruled_why }}
        </p>
      </section>
      <form
        v-if="shown.decision === 'held' && !shown.overruled_by && session.me?.role !== 'reader'"
        class="card fields"
        aria-label="Overrule"
        @submit.prevent="overrule.mutate()"
      >
        <div class="field grow">
          <label for="g-why">Publish it all the same, since</label
          ><InputText id="g-why" v-model="words" required minlength="3" maxlength="4000" />
        </div>
        <Button
          type="submit"
          label="Overrule"
          variant="outlined"
          :loading="overrule.isPending.value"
        />
        <Message v-if="overrule.error.value" severity="error" role="alert">{{
          says(overrule.error.value)
        }}</Message>
      </form>
      <div class="look">
        <PagePicture
          v-if="shown.picture"
          :picture="shown.picture"
          :path="shown.path"
          :findings="marked"
          :chosen="chosenAt"
          @choose="(number) => choose(shown!.judged[number - 1]!.place_key)"
        />
        <div class="stack">
          <JudgedList :judged="shown.judged" :chosen="chosen" @choose="choose" />
          <p
            v-if="shown.state === 'answered' && !shown.judged.length && !shown.problem_code"
            class="card"
          >
            Nothing was found on it.
          </p>
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
.look {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(420px, 100%), 1fr));
  gap: 18px;
  align-items: start;
}
</style>
