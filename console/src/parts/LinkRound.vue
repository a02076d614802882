<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, watch } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { LINK_STATES, type LinkStateName } from "@/choices";
import { count, says, time } from "@/format";
import { session } from "@/session";

/** When a site's links were followed last and what they led to; a round over all of them can be begun here. */
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ show: [state: LinkStateName] }>();
const cache = useQueryClient();
const slug = computed(() => ({ slug: props.site }));
const { data: round } = useQuery({
  queryKey: ["link-round", slug],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/links/round", { params: { path: slug.value } })),
  refetchInterval: (query) => (query.state.data && !query.state.data.ended_at ? 1000 : false),
});
const begin = useMutation({
  mutationFn: () => data(api.POST("/api/v1/sites/{slug}/links/round", { params: { path: slug.value } })),
  onSuccess: (now) => {
    document.getElementById("round-title")?.focus(); // the button cannot be pressed while a round is under way
    cache.setQueryData(["link-round", slug.value], now);
  },
});
watch(() => round.value?.ended_at, (ended, before) => { if (ended && before === null) void cache.invalidateQueries({ queryKey: ["links"] }); });
const told = computed(() => {
  if (!round.value) return "No link was followed yet.";
  if (!round.value.ended_at) return round.value.total ? `${round.value.asked} of ${count(round.value.total, "address", "addresses")} asked` : "Beginning …";
  return `Followed ${time(round.value.ended_at)}${round.value.asked_by ? ` for ${round.value.asked_by}` : ""}.`;
});
const states = computed(() => LINK_STATES.flatMap(({ value, label }) => { const number = round.value?.states?.[value]; return number ? [{ value, says: `${number} ${label}` }] : []; }));
</script>

<template>
  <section class="card row spread" aria-labelledby="round-title">
    <div><h2 id="round-title" tabindex="-1">Where they lead</h2><p role="status" class="soft">{{ told }}</p>
      <p v-if="states.length" class="row"><button v-for="one in states" :key="one.value" type="button" class="bare" @click="emit('show', one.value)">{{ one.says }}</button></p></div>
    <Button v-if="session.me && session.me.role !== 'reader'" label="Follow all links" variant="outlined" :disabled="!!round && !round.ended_at" :loading="begin.isPending.value" @click="begin.mutate()" />
    <Message v-if="begin.error.value" severity="error" role="alert">{{ says(begin.error.value) }}</Message>
  </section>
</template>
