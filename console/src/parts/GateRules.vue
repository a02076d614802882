<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type GateRules } from "@/api/client";
import { count, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import GateSections from "@/parts/GateSections.vue";
import PolicyField from "@/parts/PolicyField.vue";
import { session } from "@/session";
import { announce } from "@/use/announcements";
import { useSite } from "@/use/site";

/** The rules of the gate, tried on what was asked in the last days before they are saved. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const { data: shown } = useSite(() => props.site);
const {
  data: fields,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ["policy-fields", "gate"],
  queryFn: () => data(api.GET("/api/v1/policy/fields", { params: { query: { table: "gate" } } })),
  staleTime: Infinity,
});
const rules = ref<GateRules>({});
const seen = ref("");
watch(
  shown,
  (now) => {
    if (!now || seen.value === now.tag) return;
    seen.value = now.tag;
    rules.value = { ...now.policy.gate };
  },
  { immediate: true },
);
const set = (name: string, value: unknown) => {
  rules.value = { ...rules.value, [name]: value };
};
/** The rules as they are sent: without what is not set. */
const given = computed(() => JSON.parse(JSON.stringify(rules.value)) as GateRules);
const changed = computed(
  () => JSON.stringify(given.value) !== JSON.stringify(shown.value?.policy.gate ?? {}),
);
const trial = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/gate/trial", {
        params: { path: path.value },
        body: { gate: given.value, days: 30 },
      }),
    ),
});
const save = useMutation({
  mutationFn: () =>
    data(
      api.PATCH("/api/v1/sites/{slug}", {
        params: { path: path.value, header: { "if-match": seen.value } },
        body: { policy: { ...shown.value!.policy, gate: given.value } },
      }),
    ),
  onSuccess: (after) => {
    cache.setQueryData(["site", path.value], after);
    seen.value = after.tag;
    trial.reset();
    announce("The rules of the gate are saved; they count from the next question on.");
  },
});
const verdict = computed(() =>
  trial.data.value
    ? `With these rules, of the last ${trial.data.value.days} days' ${count(trial.data.value.publications, "publication")} ${trial.data.value.held_after} would have been held (${trial.data.value.held_before} were).`
    : "",
);
const turned = computed(() => [
  { says: "would be held", clearances: trial.data.value?.newly_held ?? [] },
  { says: "would be clear", clearances: trial.data.value?.newly_clear ?? [] },
]);
const choices = (name: string) =>
  fields.value?.items.find((field) => field.name === name)?.choices ?? [];
</script>

<template>
  <AsyncState
    v-if="shown"
    :loading="!error && isPending"
    :error="error"
    what="the rules of the gate"
    @again="refetch"
  >
    <form class="card stack tight" aria-labelledby="rules-title" @submit.prevent="save.mutate()">
      <h2 id="rules-title">Rules of the gate</h2>
      <PolicyField
        v-for="field in fields!.items"
        :key="field.name"
        :field="field"
        :model-value="rules[field.name as keyof GateRules]"
        @update:model-value="(value) => set(field.name, value)"
      />
      <GateSections
        :model-value="rules.sections ?? []"
        :holds="choices('holds')"
        :counts="choices('counts')"
        @update:model-value="(sections) => set('sections', sections.length ? sections : undefined)"
      />
      <p v-if="verdict" role="status">
        <strong>{{ verdict }}</strong>
      </p>
      <template v-for="part in turned" :key="part.says">
        <ul v-if="part.clearances.length">
          <li v-for="one in part.clearances.slice(0, 10)" :key="one.id">
            <RouterLink
              :to="{ name: 'clearance', params: { site, clearance: one.id } }"
              :aria-label="`${one.path}, ${part.says}, clearance ${one.id}`"
              >{{ one.path }}</RouterLink
            >
            {{ part.says }}
          </li>
        </ul>
      </template>
      <Message v-if="trial.error.value ?? save.error.value" severity="error" role="alert">{{
        says(trial.error.value ?? save.error.value)
      }}</Message>
      <div v-if="session.me?.role === 'manager'" class="row">
        <Button
          label="Try them on the last 30 days"
          variant="outlined"
          :loading="trial.isPending.value"
          @click="trial.mutate()"
        /><Button
          type="submit"
          label="Save the rules"
          :disabled="!changed"
          :loading="save.isPending.value"
        />
      </div>
    </form>
  </AsyncState>
</template>
