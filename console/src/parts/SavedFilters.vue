<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, type SavedView } from "@/api/client";
import { says } from "@/format";
import { announce } from "@/use/announcements";

/** Filters that one has saved for a view, and a way to save the one that is set. */
const props = defineProps<{ site: string; view: SavedView }>();
const route = useRoute();
const router = useRouter();
const cache = useQueryClient();
const key = computed(() => ["filters", props.site]);
const { data: saved } = useQuery({
  queryKey: key,
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/filters", { params: { path: { slug: props.site } } })),
  staleTime: 60_000,
});
const mine = computed(() => saved.value?.items.filter((one) => one.view === props.view) ?? []);
const name = ref("");
const now = computed(() =>
  Object.fromEntries(
    Object.entries(route.query).filter(
      (pair): pair is [string, string] => typeof pair[1] === "string" && pair[0] !== "chosen",
    ),
  ),
);
const isHere = (query: Record<string, string>) =>
  JSON.stringify(Object.entries(query).sort()) === JSON.stringify(Object.entries(now.value).sort());

const save = useMutation({
  mutationFn: (what: { name: string; query: Record<string, string> }) =>
    data(
      api.POST("/api/v1/sites/{slug}/filters", {
        params: { path: { slug: props.site } },
        body: { view: props.view, ...what },
      }),
    ),
  onSuccess: (made) => {
    name.value = "";
    announce(`The filter “${made.name}” is saved.`);
    return cache.invalidateQueries({ queryKey: key.value });
  },
});
const drop = useMutation({
  mutationFn: (one: { id: number; name: string; query: Record<string, string> }) =>
    api.DELETE("/api/v1/sites/{slug}/filters/{filter_id}", {
      params: { path: { slug: props.site, filter_id: one.id } },
    }),
  onSuccess: (_, one) => {
    announce(`The filter “${one.name}” is forgotten.`, () =>
      save.mutateAsync({ name: one.name, query: one.query }),
    );
    document.querySelector<HTMLElement>("main h1")?.focus();
    return cache.invalidateQueries({ queryKey: key.value });
  },
});
</script>

<template>
  <div v-if="mine.length || Object.keys(now).length" class="row saved">
    <span v-if="mine.length" class="soft small">Saved:</span>
    <span v-for="one in mine" :key="one.id" class="one" :class="{ here: isHere(one.query) }">
      <button
        type="button"
        class="bare"
        :aria-pressed="isHere(one.query)"
        @click="router.replace({ query: one.query })"
      >
        {{ one.name }}
      </button>
      <button
        type="button"
        class="bare"
        :aria-label="`Forget the filter ${one.name}`"
        @click="drop.mutate(one)"
      >
        ×
      </button>
    </span>
    <form
      v-if="Object.keys(now).length && !mine.some((one) => isHere(one.query))"
      class="row"
      aria-label="Save the filter"
      @submit.prevent="save.mutate({ name, query: now })"
    >
      <InputText
        v-model="name"
        aria-label="Name for this filter"
        placeholder="Name for this filter"
        required
        maxlength="200"
        size="small"
      />
      <Button
        type="submit"
        label="Save the filter"
        size="small"
        variant="outlined"
        :loading="save.isPending.value"
      />
    </form>
    <Message v-if="save.error.value" severity="error" role="alert">{{
      says(save.error.value)
    }}</Message>
  </div>
</template>

<style scoped>
.one {
  display: inline-flex;
  gap: 8px;
  padding: 2px 12px;
  border: 1px solid var(--edge);
  border-radius: 16px;
  background: var(--paper);
}
.one.here {
  background: var(--soft-plum);
}
.one button {
  min-width: 24px;
  min-height: 28px;
  text-decoration: none;
}
</style>
