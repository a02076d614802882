<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { type Environment } from "@/choices";
import { count, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import FilterBar from "@/parts/FilterBar.vue";
import WordSuggestions from "@/parts/WordSuggestions.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useListing } from "@/use/listing";
import { useSiteWords } from "@/use/words";

/** The words of a site's pages that are in no dictionary, and those that are the site's own. */
const props = defineProps<{ site: string }>();
const { text, number, set, any, clear } = useAddress();
const slug = computed(() => ({ slug: props.site }));
const filters = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
  path: text("path"),
}));
const doubtful = useQuery({
  queryKey: ["doubtful-words", slug, filters],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/doubtful-words", {
        params: { path: slug.value, query: { ...filters.value, limit: 200 } },
      }),
    ),
  placeholderData: (before) => before,
});
const own = useListing(
  () => ["site-words", props.site],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/words", {
        params: { path: slug.value, query: { limit: 200, ...after } },
      }),
    ),
);
const { add, drop } = useSiteWords(() => props.site);
const mayChange = computed(() => session.me !== undefined && session.me?.role !== "reader");
const problem = computed(() => add.error.value ?? drop.error.value);
const typed = ref("");
const items = computed(() => doubtful.data.value?.items ?? []);

async function addTyped() {
  const words = typed.value.split(/[\s,;]+/).filter(Boolean);
  if (!words.length) return;
  await add.mutateAsync(words);
  typed.value = "";
}
/** The row goes away: the reader goes on at the heading of the list. */
async function take(change: Promise<unknown>, heading: string) {
  await change;
  await nextTick();
  document.getElementById(heading)?.focus();
}
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Words</h1>
    <p class="soft">
      Words that are in no dictionary of their page’s language. A word that is right becomes one of
      the site’s own; one that is wrong is mended like any fault.
    </p>
    <FilterBar @submit="set({})">
      <EnvironmentField
        :model-value="filters.environment"
        :site="site"
        all="Newest sweep"
        @update:model-value="(environment) => set({ environment, sweep: null })"
      />
      <Button v-if="any" label="All words" variant="text" @click="clear()" />
    </FilterBar>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <section class="card stack tight" aria-labelledby="doubtful-title">
      <h2 id="doubtful-title" tabindex="-1">
        In no dictionary{{ filters.path ? `, on ${filters.path}` : "" }}
      </h2>
      <AsyncState
        :loading="doubtful.isPending.value"
        :error="doubtful.error.value"
        what="the words"
        @again="doubtful.refetch()"
      >
        <p class="soft">{{ count(items.length, "word") }}, those on most pages first</p>
        <div
          v-if="items.length"
          class="scrolls"
          role="region"
          aria-label="List of words in no dictionary"
          tabindex="0"
        >
          <table class="plain">
            <caption class="only-aloud">
              Words in no dictionary
            </caption>
            <thead>
              <tr>
                <th scope="col">Word</th>
                <th scope="col">Reach</th>
                <th scope="col">First</th>
                <th scope="col">Perhaps</th>
                <th v-if="mayChange" scope="col">Is it right?</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in items" :key="`${one.word} ${one.language}`">
                <th scope="row">
                  <strong :lang="one.language">{{ one.word }}</strong>
                </th>
                <td>
                  <RouterLink
                    :to="{
                      name: 'findings',
                      params: { site },
                      query: {
                        sweep: filters.sweep,
                        environment: filters.environment,
                        check: 'text/spelling',
                        cause: one.cause,
                      },
                    }"
                    :aria-label="`${count(one.places, 'place')} of ${one.word}`"
                    >{{ count(one.places, "place") }}</RouterLink>, {{ count(one.pages, "page") }}
                </td>
                <td>
                  <RouterLink
                    :to="{ name: 'finding', params: { site, finding: one.finding } }"
                    :aria-label="`${one.word} on ${one.path}`"
                    >{{ one.path }}</RouterLink
                  >
                </td>
                <td><WordSuggestions :word="one.word" :language="one.language" /></td>
                <td v-if="mayChange">
                  <Button
                    label="Add to the site’s words"
                    size="small"
                    variant="outlined"
                    :aria-label="`Add to the site’s words: ${one.word}`"
                    @click="take(add.mutateAsync([one.word]), 'doubtful-title')"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-else>
          {{ doubtful.data.value ? "Every word is in a dictionary or one of the site’s own." : "" }}
        </p>
      </AsyncState>
    </section>
    <section class="card stack tight" aria-labelledby="own-title">
      <h2 id="own-title" tabindex="-1">The site’s own words</h2>
      <form v-if="mayChange" class="row ends" @submit.prevent="addTyped">
        <div class="field">
          <label for="w-new">Words to add</label
          ><InputText
            id="w-new"
            v-model="typed"
            autocomplete="off"
            maxlength="2000"
            aria-describedby="w-hint"
          />
        </div>
        <Button
          type="submit"
          label="Add"
          :disabled="!typed.trim()"
          :loading="add.isPending.value"
        />
        <span id="w-hint" class="soft small">Several at once with spaces between them</span>
      </form>
      <AsyncState
        :loading="own.isPending.value"
        :error="own.error.value"
        what="the site’s words"
        @again="own.refetch()"
      >
        <div
          v-if="own.rows.value.length"
          class="scrolls"
          role="region"
          aria-label="List of the site’s own words"
          tabindex="0"
        >
          <table class="plain">
            <caption class="only-aloud">
              The site’s own words
            </caption>
            <thead>
              <tr>
                <th scope="col">Word</th>
                <th scope="col">Added by</th>
                <th v-if="mayChange" scope="col">Drop it</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in own.rows.value" :key="one.id">
                <th scope="row">{{ one.word }}</th>
                <td>{{ one.added_by }}, {{ time(one.added_at) }}</td>
                <td v-if="mayChange">
                  <Button
                    label="Drop"
                    size="small"
                    variant="outlined"
                    :aria-label="`Drop ${one.word}`"
                    @click="take(drop.mutateAsync(one.word), 'own-title')"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-else class="soft">None yet. Names of places and boats are good ones to begin with.</p>
        <Button v-if="own.hasMore.value" label="More words" variant="text" @click="own.more()" />
      </AsyncState>
    </section>
  </div>
</template>

<style scoped>
td,
th {
  min-width: 6.5em;
}
.ends {
  align-items: end;
}
.ends .small {
  padding-bottom: 10px;
}
</style>
