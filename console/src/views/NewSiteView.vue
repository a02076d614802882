<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, uniqueKey } from "@/api/client";
import { says } from "@/format";
import ChoiceField from "@/parts/ChoiceField.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { useDraft } from "@/use/drafts";

/** A site is registered, and its first sweep begun: one sees its pages being found. */
const router = useRouter();
const cache = useQueryClient();
const { words: name, forget: forgetName } = useDraft("new-site:name");
const { words: live, forget: forgetLive } = useDraft("new-site:live");
const { words: staging, forget: forgetStaging } = useDraft("new-site:staging");
const ownSlug = ref("");
const slug = computed(
  () =>
    ownSlug.value ||
    name.value
      .toLowerCase()
      .normalize("NFKD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 40),
);
const found = ref<string | null>("both");
const leave = ref(false);
const WAYS = [
  { label: "Its sitemap, then its links", value: "both" },
  { label: "Its sitemap", value: "sitemap" },
  { label: "Its links, from the first page on", value: "crawl" },
];
const isPrivate = computed(() =>
  [live.value, staging.value].some((one) =>
    /^https?:\/\/(localhost|127\.|10\.|192\.168\.|172\.(1[6-9]|2\d|3[01])\.|\[::1\])/.test(one),
  ),
);

const entering = useMutation({
  mutationFn: async () => {
    const site = await data(
      api.POST("/api/v1/sites", {
        params: { header: { "Idempotency-Key": uniqueKey() } },
        body: {
          slug: slug.value,
          name: name.value,
          live_address: live.value,
          staging_address: staging.value || null,
          found_by: found.value as "both" | "sitemap" | "crawl",
          private_leave: leave.value,
          listed_paths: [],
          most_pages: 20_000,
          crawl_depth: 20,
          parallel: 4,
          pause_ms: 0,
          schedule_environment: "live",
          policy: {},
          journeys: [],
          second_factor_roles: [],
        },
      }),
    );
    return data(
      api.POST("/api/v1/sites/{slug}/sweeps", {
        params: { path: { slug: site.slug }, header: { "Idempotency-Key": uniqueKey() } },
        body: {
          environment: "live",
          lens: "rendered",
          section: "/",
          changed: false,
          fresh: false,
          paths: [],
        },
      }),
    );
  },
  onSuccess: async (sweep) => {
    for (const forget of [forgetName, forgetLive, forgetStaging]) forget();
    await cache.invalidateQueries();
    await router.push({ name: "sweep", params: { site: sweep.site, sweep: sweep.id } });
  },
});
const { error: problem, isPending: busy } = entering;
</script>

<template>
  <form class="stack" aria-label="Register a site" @submit.prevent="entering.mutate()">
    <h1 tabindex="-1">Register a site</h1>
    <ol class="steps">
      <li>Say where it is.</li>
      <li>Its pages are found and read in a browser, once.</li>
      <li>Look at the widest causes, say who answers for which part, hand them out.</li>
    </ol>
    <div class="card stack tight">
      <div class="field">
        <label for="n-name">Name</label
        ><InputText id="n-name" v-model="name" required maxlength="200" />
      </div>
      <div class="field">
        <label for="n-live">Address of the live site</label
        ><InputText
          id="n-live"
          v-model="live"
          type="url"
          required
          placeholder="https://www.example.org/"
        />
      </div>
      <div class="field">
        <span class="row"
          ><label for="n-staging">Address of the staging site, where there is one</label
          ><TermHelp term="environment" /></span
        ><InputText
          id="n-staging"
          v-model="staging"
          type="url"
          placeholder="https://staging.example.org/"
        />
      </div>
      <ChoiceField v-model="found" label="How its pages are found" :options="WAYS" :all="null" />
      <div class="field">
        <label for="n-slug">Short name, for addresses</label
        ><InputText
          id="n-slug"
          :model-value="slug"
          required
          pattern="[a-z0-9][a-z0-9-]*"
          @update:model-value="(value) => (ownSlug = value ?? '')"
        />
      </div>
      <label v-if="isPrivate || leave" class="row"
        ><input v-model="leave" type="checkbox" /> These addresses are private, and the service may
        reach them</label
      >
      <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
      <div>
        <Button type="submit" label="Register it and read it for the first time" :loading="busy" />
      </div>
    </div>
  </form>
</template>

<style scoped>
form {
  max-width: 720px;
}
.steps {
  margin: 0;
  padding-left: 22px;
}
</style>
