<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data } from "@/api/client";
import { count, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import { session } from "@/session";
import { announce } from "@/use/announcements";
import { useDraft } from "@/use/drafts";

/** The accessibility statement: proposed from the facts, edited here, published; and the account for head and auditors. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const LANGUAGES = [
  { label: "English", value: "en" },
  { label: "German", value: "de" },
];
const CONFORMANCE: Record<string, string> = {
  full: "conforms",
  partial: "conforms in part",
  none: "does not conform",
};
const FORMS = [
  ["html", "to print"],
  ["md", "Markdown"],
  ["csv", "CSV"],
];
const language = ref<string | null>("en");
const slug = computed(() => props.site);
const draft = useDraft(`statement:${props.site}`);
const body = draft.words;
const isManager = computed(() => session.me?.role === "manager");
const {
  data: found,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["statements", slug],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/statements", { params: { path: { slug: slug.value } } })),
});
const versions = computed(() => found.value?.items ?? []);
const propose = useMutation({
  mutationFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/statement/proposal", {
        params: { path: { slug: slug.value }, query: { language: language.value as "en" } },
      }),
    ),
  onSuccess: (made) => {
    body.value = made!.body;
    announce("A statement is proposed below.");
  },
});
const write = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/statements", {
        params: { path: { slug: slug.value } },
        body: { language: language.value as "en", body: body.value },
      }),
    ),
  onSuccess: (made) => {
    announce(`Version ${made!.id} is kept. It is not public yet.`);
    draft.forget();
    return cache.invalidateQueries({ queryKey: ["statements"] });
  },
});
const publish = useMutation({
  mutationFn: (version: number) =>
    data(
      api.POST("/api/v1/sites/{slug}/statements/{statement_id}/publish", {
        params: { path: { slug: slug.value, statement_id: version } },
      }),
    ),
  onSuccess: (made) => {
    announce(`Version ${made!.id} is public.`);
    return cache.invalidateQueries({ queryKey: ["statements"] });
  },
});
function edit(version: { language: string; body: string }) {
  language.value = version.language;
  body.value = version.body;
}
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Statement and account</h1>
    <section class="card" aria-labelledby="account-title">
      <h2 id="account-title">Account for head and auditors</h2>
      <p class="soft">
        Figures over time, what is open and with whom, what was tested by machine and by eye, what
        was not, waivers, method and sample.
      </p>
      <ul class="plain-list row">
        <li v-for="[form, label] in FORMS" :key="form">
          <a :href="`/api/v1/sites/${site}/account?as=${form}`">The live site, {{ label }}</a>
        </li>
        <li><a href="/api/v1/account?as=html">All sites, to print</a></li>
      </ul>
    </section>
    <section v-if="isManager" class="card stack tight" aria-labelledby="statement-title">
      <h2 id="statement-title">Accessibility statement</h2>
      <p class="soft">
        Proposed from what is known of the live pages. Fill in what stands in square brackets; only
        then it can be published.
      </p>
      <div class="row">
        <ChoiceField v-model="language" label="Language" :options="LANGUAGES" :all="null" />
        <Button
          label="Propose from the facts"
          severity="secondary"
          :loading="propose.isPending.value"
          @click="propose.mutate()"
        />
      </div>
      <Message v-if="propose.error.value" severity="error" role="alert">{{
        says(propose.error.value)
      }}</Message>
      <p v-if="propose.data.value" role="status">
        By the facts the site {{ CONFORMANCE[propose.data.value.conformance] }};
        {{ count(propose.data.value.gaps, "criterion", "criteria") }} not met somewhere.
      </p>
      <form class="stack tight" aria-label="Statement" @submit.prevent="write.mutate()">
        <div class="field">
          <label for="s-body">Text (Markdown)</label
          ><Textarea id="s-body" v-model="body" rows="16" required maxlength="200000" />
        </div>
        <Message v-if="write.error.value" severity="error" role="alert">{{
          says(write.error.value)
        }}</Message>
        <div>
          <Button type="submit" label="Keep this version" :loading="write.isPending.value" />
        </div>
      </form>
    </section>
    <section class="card" aria-labelledby="versions-title">
      <h2 id="versions-title">Versions</h2>
      <AsyncState :loading="isPending" :error="error" what="the versions" @again="refetch()">
        <Message v-if="publish.error.value" severity="error" role="alert">{{
          says(publish.error.value)
        }}</Message>
        <ul v-if="versions.length" class="plain-list">
          <li v-for="one in versions" :key="one.id">
            <div>
              <strong>Version {{ one.id }}</strong
              >, {{ one.language === "de" ? "German" : "English" }}
              <p class="soft small">
                {{ one.made_by }}, {{ time(one.made_at) }} ·
                {{
                  one.published_at
                    ? `public since ${time(one.published_at)}, by ${one.published_by}`
                    : "not public"
                }}
              </p>
            </div>
            <div class="row">
              <a
                :href="`/api/v1/sites/${site}/statements/${one.id}?as=html`"
                :aria-label="`Version ${one.id} as a page`"
                >As a page</a
              >
              <a
                :href="`/api/v1/sites/${site}/statements/${one.id}?as=md`"
                :aria-label="`Version ${one.id} as Markdown`"
                >As Markdown</a
              >
              <Button
                v-if="isManager"
                label="Edit"
                :aria-label="`Edit version ${one.id}`"
                size="small"
                variant="text"
                @click="edit(one)"
              />
              <Button
                v-if="isManager && !one.published_at"
                label="Publish"
                :aria-label="`Publish version ${one.id}`"
                size="small"
                :loading="publish.isPending.value"
                @click="publish.mutate(one.id)"
              />
            </div>
          </li>
        </ul>
        <p v-else class="soft">There is no version yet.</p>
      </AsyncState>
    </section>
  </div>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 16px;
  padding: 8px 0;
}
section > .row li,
.row li {
  border: 0;
}
p {
  margin: 2px 0 0;
}
:deep(textarea) {
  width: 100%;
  font-family: ui-monospace, monospace;
  font-size: 14px;
}
</style>
