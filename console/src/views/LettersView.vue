<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { api, data } from "@/api/client";
import { time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";

const { data: letters, isPending, error, refetch } = useQuery({ queryKey: ["letters"], queryFn: () => data(api.GET("/api/v1/letters")), retry: false });
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Letters</h1>
    <p class="soft">Caught here and not sent on, the newest first.</p>
    <AsyncState :loading="isPending" :error="error" what="the letters" @again="refetch()">
      <article v-for="letter in letters?.items" :key="letter.key" class="card" :aria-label="`${letter.subject}, to ${letter.to}`">
        <h2>{{ letter.subject }}</h2>
        <p class="soft">To {{ letter.to }}, {{ time(letter.at) }}</p>
        <pre tabindex="0">{{ letter.text }}</pre>
      </article>
      <p v-if="!letters?.items.length" class="card">None yet.</p>
    </AsyncState>
  </div>
</template>

<style scoped>
pre { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; }
</style>
