<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { browserName, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";

/** Where one is signed in, each to be ended. */
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const {
  data: sessions,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["sessions"],
  queryFn: () => data(api.GET("/api/v1/me/sessions")),
});
const end = useMutation({
  mutationFn: (id: number) =>
    api.DELETE("/api/v1/me/sessions/{session_id}", { params: { path: { session_id: id } } }),
  onSuccess: async () => {
    await cache.invalidateQueries({ queryKey: ["sessions"] });
    emit("said", "You are signed out there.");
  },
});
</script>

<template>
  <section class="card stack tight" aria-labelledby="m-sessions">
    <h2 id="m-sessions">Where you are signed in</h2>
    <Message v-if="end.error.value" severity="error" role="alert">{{
      says(end.error.value)
    }}</Message>
    <AsyncState :loading="isPending" :error="error" what="your sessions" @again="refetch()">
      <ul class="plain-list stack tight">
        <li v-for="one in sessions?.items" :key="one.id" class="row spread">
          <span>
            <strong>{{
              one.is_this ? `Here, ${browserName(one.browser)}` : browserName(one.browser)
            }}</strong><span class="soft"
              >, from {{ one.from_address || "an unknown address" }}, since
              {{ time(one.created_at) }}, last used {{ time(one.last_used_at) }}</span
            >
          </span>
          <Button
            v-if="!one.is_this"
            label="Sign out there"
            size="small"
            variant="outlined"
            :aria-label="`Sign out there: ${browserName(one.browser)}, since ${time(one.created_at)}`"
            @click="end.mutate(one.id)"
          />
        </li>
      </ul>
    </AsyncState>
  </section>
</template>
