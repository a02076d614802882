<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { api, data } from "@/api/client";
import { time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";

const {
  data: emails,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["emails"],
  queryFn: () => data(api.GET("/api/v1/emails")),
  retry: false,
});
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">E-mails</h1>
    <p class="soft">Caught here and not sent on, the newest first.</p>
    <AsyncState :loading="isPending" :error="error" what="the e-mails" @again="refetch()">
      <article
        v-for="email in emails?.items"
        :key="email.key"
        class="card"
        :aria-label="`${email.subject}, to ${email.to}`"
      >
        <h2>{{ email.subject }}</h2>
        <p class="soft">To {{ email.to }}, {{ time(email.at) }}</p>
        <pre tabindex="0">{{ email.text }}</pre>
      </article>
      <p v-if="!emails?.items.length" class="card">None yet.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
pre {
  margin: 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
