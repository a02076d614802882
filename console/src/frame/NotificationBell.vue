<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, watchEffect } from "vue";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";
import { live } from "@/use/live";

/** How many notifications one has not seen; leads to the desk, where they are listed. */
const { data: notifications } = useQuery({
  queryKey: ["notifications", "unread"],
  queryFn: () =>
    data(api.GET("/api/v1/notifications", { params: { query: { unread: true, limit: 100 } } })),
  staleTime: 60_000,
});
watchEffect(() => {
  if (notifications.value) live.unread = notifications.value.items.length;
});
const count = computed(() => live.unread);
</script>

<template>
  <RouterLink
    :to="{ name: 'desk', hash: '#notifications-title' }"
    class="bell"
    :aria-label="`Notifications: ${count} not seen`"
    >Notifications <span class="count" :class="{ some: count }">{{ count }}</span></RouterLink
  >
</template>

<style scoped>
.bell {
  text-decoration: none;
  color: var(--ink);
}
.count {
  display: inline-block;
  min-width: 24px;
  padding: 1px 7px;
  border-radius: 12px;
  border: 1px solid var(--edge);
  text-align: center;
  font-size: 13px;
}
.count.some {
  background: var(--plum);
  border-color: var(--plum);
  color: var(--paper);
}
</style>
