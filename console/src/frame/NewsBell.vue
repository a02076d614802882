<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, watchEffect } from "vue";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";
import { live } from "@/use/live";

/** How much one was told and has not seen; leads to the desk, where it is. */
const { data: notices } = useQuery({
  queryKey: ["notices", "unread"], queryFn: () => data(api.GET("/api/v1/notices", { params: { query: { unread: true, limit: 100 } } })), staleTime: 60_000,
});
watchEffect(() => { if (notices.value) live.unread = notices.value.items.length; });
const count = computed(() => live.unread);
</script>

<template>
  <RouterLink :to="{ name: 'desk', hash: '#told-title' }" class="bell" :aria-label="`News: ${count} not seen`">News <span class="count" :class="{ some: count }">{{ count }}</span></RouterLink>
</template>

<style scoped>
.bell { text-decoration: none; color: var(--ink); } .count { display: inline-block; min-width: 24px; padding: 1px 7px; border-radius: 12px; border: 1px solid var(--edge); text-align: center; font-size: 13px; } .count.some { background: var(--plum); border-color: var(--plum); color: var(--paper); }
</style>
