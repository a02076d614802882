<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import type { Environment } from "@/choices";
import { count, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import ReviewAnswers from "@/parts/ReviewAnswers.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { announce } from "@/use/announcements";
import { useRowKeys } from "@/use/keys";
import { useReview } from "@/use/review";

/** What only people can see: how far they are, on which pages they are asked, and which questions. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { text, set } = useAddress();
const environment = computed(() => (text("environment") ?? "live") as Environment);
const {
  data: review,
  isPending,
  error,
  refetch,
} = useReview(
  () => props.site,
  () => environment.value,
);
const left = computed(() => (review.value ? review.value.asked - review.value.answered : 0));
const isManager = computed(() => session.me?.role === "manager");
const mayAnswer = computed(() => session.me?.role !== "reader");
const to = (query: Record<string, string>) => ({
  name: "question",
  params: { site: props.site },
  query: { environment: environment.value, ...query },
});
const path = ref("");
const choose = useMutation({
  mutationFn: (page: { path: string; chosen: boolean | null }) =>
    data(
      api.PUT("/api/v1/sites/{slug}/review/pages", {
        params: { path: { slug: props.site } },
        body: { environment: environment.value, ...page },
      }),
    ),
  onSuccess: (_, page) => {
    path.value = "";
    announce(`${page.path} is ${page.chosen === false ? "left out" : "asked about"}.`);
    return cache.invalidateQueries({ queryKey: ["review"] });
  },
});
useRowKeys("page");
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <h1 tabindex="-1">Review</h1>
      <EnvironmentField
        :model-value="environment"
        :site="site"
        :all="null"
        @update:model-value="(value) => set({ environment: value ?? null })"
      />
    </div>
    <p class="soft">
      What no program can decide, asked on a sample of pages, each question with what has to be
      looked at. An answer lapses when the page shows something else.
    </p>
    <AsyncState :loading="isPending" :error="error" what="the review" @again="refetch()">
      <div v-if="review?.sweep == null" class="card">
        <p>
          Nobody is asked anything before a sweep of all pages is done.
          <RouterLink :to="{ name: 'sweeps', params: { site } }">Start one</RouterLink>
        </p>
      </div>
      <template v-else>
        <div class="card row spread">
          <p>
            <strong>{{ review.answered }} of {{ count(review.asked, "question") }} answered</strong
            ><template v-if="review.lapsed"
              >, {{ review.lapsed }} to answer again since something changed</template
            >. {{ count(review.faults, "fault") }} seen.
          </p>
          <RouterLink v-if="left && mayAnswer" class="go" :to="to({})">{{
            review.answered ? "Go on" : "Begin"
          }}</RouterLink>
        </div>
        <section class="card" aria-labelledby="of-pages">
          <h2 id="of-pages">Pages</h2>
          <ul class="plain-list">
            <li v-for="page in review.pages" :key="page.path" class="line" data-row>
              <div>
                <RouterLink v-if="page.asked" :to="to({ path: page.path })">{{
                  page.title || page.path
                }}</RouterLink>
                <span v-else>{{ page.title || page.path }}</span>
                <p class="soft small">
                  {{ page.path }} ·
                  {{ page.asked ? page.because.join("; ") || "taken in" : "left out" }}
                </p>
              </div>
              <p v-if="page.asked" class="small figures">
                {{ page.answered }} of {{ page.questions
                }}<template v-if="page.lapsed">, {{ page.lapsed }} again</template>
              </p>
              <Button
                v-if="isManager"
                :label="page.asked ? 'Leave out' : 'Take in'"
                :aria-label="`${page.asked ? 'Leave out' : 'Take in'} ${page.path}`"
                size="small"
                variant="text"
                @click="
                  choose.mutate({
                    path: page.path,
                    chosen: page.asked ? false : page.because.length ? null : true,
                  })
                "
              />
            </li>
          </ul>
          <form
            v-if="isManager"
            class="row"
            aria-label="Take another page in"
            @submit.prevent="choose.mutate({ path, chosen: true })"
          >
            <div class="field">
              <label for="r-path">Another page (its path)</label
              ><InputText id="r-path" v-model="path" required pattern="/[^\s]*" />
            </div>
            <Button type="submit" label="Take in" severity="secondary" />
          </form>
          <Message v-if="choose.error.value" severity="error" role="alert">{{
            says(choose.error.value)
          }}</Message>
        </section>
        <section class="card" aria-labelledby="of-questions">
          <h2 id="of-questions">Questions</h2>
          <ul class="plain-list">
            <li v-for="one in review.questions" :key="one.key" class="line">
              <div>
                <RouterLink :to="to({ only: one.key })">{{ one.asks }}</RouterLink>
                <p class="soft small">
                  {{ one.about === "site" ? "of the site" : `on ${count(one.asked, "page")}` }}
                </p>
              </div>
              <p class="small figures">
                {{ one.answered }} of {{ one.asked
                }}<template v-if="one.lapsed">, {{ one.lapsed }} again</template
                ><template v-if="one.faults">, {{ count(one.faults, "fault") }}</template>
              </p>
            </li>
          </ul>
        </section>
        <ReviewAnswers :site="site" :environment="environment" />
      </template>
    </AsyncState>
  </div>
</template>

<style scoped>
.go {
  padding: 8px 18px;
  border-radius: 8px;
  background: var(--plum);
  color: var(--paper);
  font-weight: 600;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
  padding: 8px 0;
}
.line > div {
  flex: 1 1 260px;
}
.line + .line {
  border-top: 1px solid var(--line);
}
.figures {
  min-width: 110px;
}
p {
  margin: 2px 0 0;
}
form {
  margin-top: 12px;
  align-items: end;
}
</style>
