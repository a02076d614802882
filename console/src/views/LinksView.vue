<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data } from "@/api/client";
import { LINK_STATES, type Environment, type LinkStateName } from "@/choices";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import LinkLead from "@/parts/LinkLead.vue";
import LinkCheck from "@/parts/LinkCheck.vue";
import LongList from "@/parts/LongList.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

/** All links by text and by target: what one text leads to, and what one target is called. */
const props = defineProps<{ site: string }>();
const { text, number, set, any, clear } = useAddress();
const filters = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
  text: text("text"),
  target: text("target"),
  state: text("state") as LinkStateName | undefined,
}));
const { rows, more, hasMore, isPending, error, refetch } = useListing(
  () => ["links", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/links", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 200, ...after } },
      }),
    ),
);
const words = ref(text("text") ?? "");
const target = ref(text("target") ?? "");
watch(
  () => [text("text"), text("target")],
  ([a, b]) => {
    words.value = a ?? "";
    target.value = b ?? "";
  },
);
useRowKeys("link");
const shown = (place: string) =>
  !place ? "(nowhere)" : /[\p{L}\p{N}]/u.test(place) ? place : `${place} (as written)`;
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Link texts</h1>
    <p class="soft">
      Read alone, does each text say where it goes? Press a text to see all it leads to, a target to
      see all that it is called.
    </p>
    <FilterBar @submit="set({ text: words, target })">
      <EnvironmentField
        :model-value="filters.environment"
        :site="site"
        all="Newest sweep"
        @update:model-value="(environment) => set({ environment, sweep: null })"
      />
      <div class="field">
        <label for="l-text">Text is</label
        ><InputText id="l-text" v-model="words" @change="set({ text: words })" />
      </div>
      <div class="field">
        <label for="l-target">Leads to</label
        ><InputText id="l-target" v-model="target" @change="set({ target })" />
      </div>
      <ChoiceField
        :model-value="filters.state"
        label="Leads where"
        :options="LINK_STATES"
        all="Anywhere"
        @update:model-value="(state) => set({ state })"
      />
      <Button v-if="any" label="All links" variant="text" @click="clear()" />
    </FilterBar>
    <SavedFilters :site="site" view="links" />
    <LinkCheck :site="site" @show="(state) => set({ state })" />
    <AsyncState :loading="isPending" :error="error" what="the links" @again="refetch()">
      <p role="status">
        {{ count(rows.length, "link") }}{{ hasMore ? " and more" : "" }}, the most used first
      </p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(row) => `${row.text}\u0000${row.address}`"
        :has-more="hasMore"
        label="Links by text and target"
        :height="56"
        @more="more"
      >
        <template #default="{ row }"
          ><div class="link">
            <button
              type="button"
              class="bare"
              :aria-label="`All that is called ${row.text || 'nothing'}, like the link to ${row.target}`"
              @click="set({ text: row.text, target: null })"
            >
              <span :class="{ none: !row.text }">{{ row.text || "(no text)" }}</span>
            </button>
            <button
              type="button"
              class="bare soft"
              :aria-label="`All that lead to ${shown(row.target)}, like ${row.text || 'the one without text'}`"
              @click="set({ target: row.target, text: null })"
            >
              {{ shown(row.target) }}
            </button>
            <LinkLead :lead="row" />
            <RouterLink
              class="figure"
              :to="{ name: 'page', params: { site }, query: { path: row.first_path, as: 'links' } }"
              :aria-label="`${count(row.uses, 'use')}, ${count(row.pages, 'page')}: ${row.text}, to ${row.target}`"
              >{{ count(row.uses, "use") }}, {{ count(row.pages, "page") }}</RouterLink
            >
          </div></template
        >
      </LongList>
      <p v-else class="card">No link{{ any ? " with these filters" : ". A sweep finds them" }}.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
.link {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 8px 18px;
  align-items: baseline;
  overflow-wrap: anywhere;
}
.link > * {
  flex: 1 1 15em;
  min-width: 0;
}
.link > .figure {
  flex: 0 1 10em;
}
.none {
  color: var(--barrier-ink);
  font-weight: 600;
}
</style>
