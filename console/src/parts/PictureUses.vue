<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, type PictureFile } from "@/api/client";
import type { Environment } from "@/choices";
import { count, says } from "@/format";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";

/** Where one picture is used; one text, written once, becomes the proposal of every fix of its faults. */
const props = defineProps<{
  site: string;
  picture: PictureFile;
  sweep?: number;
  environment?: Environment;
}>();
const cache = useQueryClient();
const query = computed(() => ({ sweep: props.sweep, environment: props.environment }));
const { data: uses } = useQuery({
  queryKey: ["picture-uses", computed(() => [props.site, query.value, props.picture.key])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/picture-uses", {
        params: { path: { slug: props.site }, query: { ...query.value, key: props.picture.key } },
      }),
    ),
});
const { words, forget } = useDraft(`picture:${props.picture.key.slice(0, 80)}`);
const decorative = ref(false);
const offer = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/picture-texts", {
        params: { path: { slug: props.site }, query: query.value },
        body: { key: props.picture.key, text: decorative.value ? "" : words.value.trim() },
      }),
    ),
  onSuccess: (made) => {
    forget();
    announce(
      made.fixes.length
        ? `Offered to ${count(made.fixes.length, "fix", "fixes")}; the picture has ${count(made.places, "place")}.`
        : "None of its places has a fault that could take a text; nothing was offered.",
    );
    return Promise.all(
      ["fixes", "causes", "fix"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
    );
  },
});
</script>

<template>
  <div class="uses stack tight">
    <ul class="plain-list">
      <li v-for="use in uses?.items.slice(0, 50)" :key="`${use.path} ${use.selector}`">
        <RouterLink
          :to="{ name: 'page', params: { site }, query: { path: use.path, as: 'pictures' } }"
          :aria-label="`${use.path}, ${use.selector}`"
          >{{ use.path }}</RouterLink
        >
        <span class="soft">
          {{
            use.decorative ? "marked as decorative" : use.text ? `“${use.text}”` : "no text"
          }}</span
        >
      </li>
    </ul>
    <p v-if="(uses?.items.length ?? 0) > 50" class="soft small">
      … and {{ uses!.items.length - 50 }} more.
    </p>
    <form
      v-if="session.me?.role === 'manager'"
      class="fields"
      aria-label="One text for all its places"
      @submit.prevent="offer.mutate()"
    >
      <div class="field grow">
        <label for="u-text">One text for all its places</label
        ><InputText
          id="u-text"
          v-model="words"
          :disabled="decorative"
          :required="!decorative"
          maxlength="1000"
        />
      </div>
      <label class="row"><input v-model="decorative" type="checkbox" /> It is decorative</label>
      <Button
        type="submit"
        label="Offer it"
        :disabled="!decorative && !words.trim()"
        :loading="offer.isPending.value"
      />
    </form>
    <Message v-if="offer.error.value" severity="error" role="alert">{{
      says(offer.error.value)
    }}</Message>
  </div>
</template>

<style scoped>
.uses {
  border-left: 4px solid var(--line);
  padding: 6px 0 6px 14px;
  margin-top: 6px;
}
</style>
