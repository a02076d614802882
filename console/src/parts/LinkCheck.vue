<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, watch } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { LINK_STATES, type LinkStateName } from "@/choices";
import { count, says, time } from "@/format";
import { session } from "@/session";

/** When a site's links were followed last and what they led to; a check over all of them can be begun here. */
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ show: [state: LinkStateName] }>();
const cache = useQueryClient();
const slug = computed(() => ({ slug: props.site }));
const { data: linkCheck } = useQuery({
  queryKey: ["link-check", slug],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/links/check", { params: { path: slug.value } })),
  refetchInterval: (query) => (query.state.data && !query.state.data.ended_at ? 1000 : false),
});
const begin = useMutation({
  mutationFn: () =>
    data(api.POST("/api/v1/sites/{slug}/links/check", { params: { path: slug.value } })),
  onSuccess: (now) => {
    document.getElementById("link-check-title")?.focus(); // the button cannot be pressed while a check is under way
    cache.setQueryData(["link-check", slug.value], now);
  },
});
watch(
  () => linkCheck.value?.ended_at,
  (ended, before) => {
    if (ended && before === null) void cache.invalidateQueries({ queryKey: ["links"] });
  },
);
const said = computed(() => {
  if (!linkCheck.value) return "No link was followed yet.";
  if (!linkCheck.value.ended_at)
    return linkCheck.value.total
      ? `${linkCheck.value.asked} of ${count(linkCheck.value.total, "address", "addresses")} asked`
      : "Beginning …";
  return `Followed ${time(linkCheck.value.ended_at)}${linkCheck.value.asked_by ? ` for ${linkCheck.value.asked_by}` : ""}.`;
});
const states = computed(() =>
  LINK_STATES.flatMap(({ value, label }) => {
    const number = linkCheck.value?.states?.[value];
    return number ? [{ value, says: `${number} ${label}` }] : [];
  }),
);
</script>

<template>
  <section class="card row spread" aria-labelledby="link-check-title">
    <div>
      <h2 id="link-check-title" tabindex="-1">Where they lead</h2>
      <p role="status" class="soft">{{ said }}</p>
      <p v-if="states.length" class="row">
        <button
          v-for="one in states"
          :key="one.value"
          type="button"
          class="bare"
          @click="emit('show', one.value)"
        >
          {{ one.says }}
        </button>
      </p>
    </div>
    <Button
      v-if="session.me && session.me.role !== 'reader'"
      label="Follow all links"
      variant="outlined"
      :disabled="!!linkCheck && !linkCheck.ended_at"
      :loading="begin.isPending.value"
      @click="begin.mutate()"
    />
    <Message v-if="begin.error.value" severity="error" role="alert">{{
      says(begin.error.value)
    }}</Message>
  </section>
</template>
