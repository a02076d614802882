<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import { api, data, Problem } from "@/api/client";
import { count, time } from "@/format";
import AnswerRow from "@/parts/AnswerRow.vue";
import AsyncState from "@/parts/AsyncState.vue";
import DecisionMark from "@/parts/DecisionMark.vue";
import EditLink from "@/parts/EditLink.vue";
import ItemAuthors from "@/parts/ItemAuthors.vue";
import { session } from "@/session";
import { ITEM_STATUS_LABELS } from "@/terms";
import { announce } from "@/use/announcements";
import { useRowKeys } from "@/use/keys";

/** What is not public yet in the site's content system, each with what the gate says of it as it would go out. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const mine = ref(false);
const {
  data: found,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["going-out", computed(() => [props.site, mine.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/going-out", {
        params: { path: { slug: props.site }, query: { mine: mine.value } },
      }),
    ),
  refetchInterval: 5000,
  retry: (_, problem) => !(problem instanceof Problem),
});
const items = computed(() => found.value?.items ?? []);
const held = computed(() => items.value.filter((one) => one.decision === "held").length);
const isUnconnected = computed(
  () => error.value instanceof Problem && error.value.code === "no-items",
);
const isManager = computed(() => session.me?.role === "manager");
const again = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/going-out/list", { params: { path: { slug: props.site } } }),
    ),
  onSuccess: () => {
    announce("The items are being listed; what changed is read.");
    return cache.invalidateQueries({ queryKey: ["going-out"] });
  },
});
useRowKeys("item");
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <h1 tabindex="-1">Going out</h1>
      <Button
        v-if="!isUnconnected && session.me?.role !== 'reader'"
        label="List anew"
        severity="secondary"
        :loading="again.isPending.value"
        @click="again.mutate()"
      />
    </div>
    <p class="soft">
      What is not public yet, read as it would go out: whole, in its template, without being signed
      in. Every save is read, and what is scheduled once more before it is due.
    </p>
    <div v-if="isUnconnected" class="card">
      <p>
        Nothing lists what this site is going to publish: no content system is connected that knows
        drafts.
      </p>
      <p v-if="isManager">
        Connect one under
        <RouterLink :to="{ name: 'corrections', params: { site } }">Corrections</RouterLink>, for
        instance a WordPress with our plugin.
      </p>
    </div>
    <template v-else>
      <label v-if="session.me?.role !== 'editor'" class="row"
        ><input v-model="mine" type="checkbox" /> Only what I wrote</label
      >
      <AsyncState :loading="isPending" :error="error" what="what is going out" @again="refetch()">
        <p role="status">
          {{ count(items.length, "item") }} not public yet<template v-if="held"
            >, {{ held }} held</template
          >
        </p>
        <div v-if="items.length" class="card">
          <ul class="plain-list" aria-label="Going out">
            <li v-for="one in items" :key="one.number" data-row>
              <AnswerRow>
                <template #answer>
                  <DecisionMark
                    v-if="one.clearance_state"
                    :clearance="{ decision: one.decision, state: one.clearance_state }"
                  />
                  <span v-else class="soft small">not read yet</span>
                </template>
                <RouterLink
                  v-if="one.clearance_id"
                  :to="{ name: 'clearance', params: { site, clearance: one.clearance_id } }"
                  >{{ one.title || one.path }}</RouterLink
                >
                <strong v-else>{{ one.title || one.path }}</strong>
                <p class="soft small">
                  {{ one.kind }}, {{ ITEM_STATUS_LABELS[one.status]
                  }}<template v-if="one.due_at">, due {{ time(one.due_at) }}</template> ·
                  {{ one.path }}
                </p>
                <p v-if="one.decision === 'held'" class="small">{{ one.reason }}</p>
                <template #who>
                  <p class="small">
                    {{ one.author }}<br /><span class="soft"
                      >changed {{ time(one.changed_at) }}</span
                    >
                  </p>
                  <EditLink :address="one.edit" :what="one.title || one.path" />
                </template>
              </AnswerRow>
            </li>
          </ul>
        </div>
        <p v-else class="soft">Nothing waits to go out.</p>
      </AsyncState>
      <ItemAuthors v-if="isManager" :site="site" />
    </template>
  </div>
</template>

<style scoped>
li + li {
  border-top: 1px solid var(--line);
}
p {
  margin: 2px 0 0;
}
</style>
