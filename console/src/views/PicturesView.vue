<script setup lang="ts">
import { computed } from "vue";
import { api, data, type PictureFile } from "@/api/client";
import { type Environment } from "@/choices";
import { count } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import CutPicture from "@/parts/CutPicture.vue";
import LongList from "@/parts/LongList.vue";
import PictureUses from "@/parts/PictureUses.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import { useAddress } from "@/use/address";
import { useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";

const props = defineProps<{ site: string }>();
const { text, number, set } = useAddress();
const filters = computed(() => ({
  sweep: number("sweep"),
  environment: text("environment") as Environment | undefined,
  contradictory: text("show") === "contradictory",
  without_text: text("show") === "without",
}));
const { rows, more, hasMore, isPending, error, refetch } = useListing<PictureFile>(
  () => ["pictures", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/pictures", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 100, ...after } },
      }),
    ),
);
const open = computed(() => text("open"));
useRowKeys("picture");
const SHOWS = [
  { label: "Several different texts", value: "contradictory" },
  { label: "Without text somewhere", value: "without" },
];
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Pictures</h1>
    <p class="soft">
      Every picture of the site by its file, with the texts that it has in all its places. Write one
      text and offer it to them all.
    </p>
    <FilterBar>
      <EnvironmentField
        :model-value="filters.environment"
        :site="site"
        all="Newest sweep"
        @update:model-value="(environment) => set({ environment, sweep: null })"
      />
      <ChoiceField
        :model-value="text('show')"
        label="Show"
        :options="SHOWS"
        @update:model-value="(show) => set({ show })"
      />
    </FilterBar>
    <SavedFilters :site="site" view="pictures" />
    <AsyncState :loading="isPending" :error="error" what="the pictures" @again="refetch()">
      <p role="status">{{ count(rows.length, "picture") }}{{ hasMore ? " and more" : "" }}</p>
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(row) => row.key"
        :has-more="hasMore"
        label="Pictures, the most used first"
        :height="110"
        @more="more"
      >
        <template #default="{ row }"
          ><div class="picture">
            <div class="thumb"><CutPicture :cut="row.cut" /></div>
            <div>
              <strong>{{ row.file || row.source.slice(0, 80) || "a picture" }}</strong>
              <p class="soft small">
                {{ count(row.uses, "place") }} on {{ count(row.pages, "page") }}, first on
                {{ row.first_path
                }}<template v-if="row.as_decorative">
                  · {{ row.as_decorative }} as decorative</template
                ><strong v-if="row.without_text" class="bad">
                  · {{ row.without_text }} without text</strong
                >
              </p>
              <p v-if="row.contradictory" class="bad small">Different texts for one picture:</p>
              <ul class="plain-list">
                <li v-for="one in row.texts.slice(0, 5)" :key="one">“{{ one }}”</li>
              </ul>
              <button
                type="button"
                class="bare"
                :aria-expanded="open === row.key"
                :aria-label="`${open === row.key ? 'Hide its places' : 'Its places, and one text for all'}: ${row.file || row.first_path}`"
                @click="set({ open: open === row.key ? null : row.key })"
              >
                {{ open === row.key ? "Hide its places" : "Its places, and one text for all" }}
              </button>
              <PictureUses
                v-if="open === row.key"
                :site="site"
                :picture="row"
                :sweep="filters.sweep"
                :environment="filters.environment"
              />
            </div></div
        ></template>
      </LongList>
      <p v-else class="card">
        No picture{{ text("show") ? " of this kind" : ". A sweep in the browser finds them" }}.
      </p>
    </AsyncState>
  </div>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 16px;
  padding: 12px 18px;
  overflow-wrap: anywhere;
}
.thumb {
  max-width: 170px;
}
.bad {
  color: var(--barrier-ink);
}
@media (max-width: 600px) {
  .picture {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
