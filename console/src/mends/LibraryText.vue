<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type LibraryText } from "@/api/client";
import { day, says } from "@/format";
import { announce } from "@/use/announcements";

/** Writes a text into the media library, where featured pictures and new uses take it from; and takes it back. */
const props = defineProps<{ finding: number; text: string; written: LibraryText | null }>();
const cache = useQueryClient();
const quoted = (text: string) => (text ? `“${text}”` : "no text");
const settled = () => cache.invalidateQueries({ queryKey: ["picture-texts"] });
const write = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/findings/{finding_id}/library-text", {
        params: { path: { finding_id: props.finding } },
        body: { text: props.text },
      }),
    ),
  onSuccess: (now) => {
    announce(`In the media library now: ${quoted(now.after)}. Pages that show it are read again.`);
    return settled();
  },
});
const takeBack = useMutation({
  mutationFn: (number: number) =>
    data(
      api.POST("/api/v1/library-texts/{text_id}/take-back", {
        params: { path: { text_id: number } },
      }),
    ),
  onSuccess: (now) => {
    announce(`In the media library again: ${quoted(now.before)}.`);
    return settled();
  },
});
</script>

<template>
  <div class="stack tight">
    <div class="row">
      <Button
        label="Write it into the media library"
        size="small"
        variant="outlined"
        :disabled="!text || text === written?.after"
        :loading="write.isPending.value"
        @click="write.mutate()"
      />
      <span class="soft small"
        >Featured pictures show it at once, on every page; texts inside contents are corrected where
        they stand.</span
      >
    </div>
    <div v-if="written" class="row">
      <span class="small"
        >In the media library since {{ day(written.written_at) }}: {{ quoted(written.after) }};
        before: {{ quoted(written.before) }}.</span
      >
      <Button
        label="Take it back"
        size="small"
        variant="text"
        :loading="takeBack.isPending.value"
        @click="takeBack.mutate(written.id)"
      />
    </div>
    <Message v-if="write.error.value ?? takeBack.error.value" severity="error" role="alert">{{
      says(write.error.value ?? takeBack.error.value)
    }}</Message>
  </div>
</template>
