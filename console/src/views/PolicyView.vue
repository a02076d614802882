<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, Problem, type Policy as PolicyTable } from "@/api/client";
import { count, number, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import PolicyChecks from "@/parts/PolicyChecks.vue";
import PolicyField from "@/parts/PolicyField.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";
import { useSite } from "@/use/site";

type Policy = PolicyTable & Record<string, unknown>;
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const { data: shown, isPending, error, refetch } = useSite(() => props.site);
const {
  data: fields,
  error: fieldsError,
  refetch: askFields,
} = useQuery({
  queryKey: ["policy-fields"],
  queryFn: () => data(api.GET("/api/v1/policy/fields")),
  staleTime: Infinity,
});
const APART = ["without", "parameters"];

/** A policy with its fields as they are written in plumrake.toml. */
const written = (policy: Policy): Policy =>
  Object.fromEntries(
    Object.entries(policy).map(([name, value]) => [name.replaceAll("_", "-"), value]),
  );
const draft = useDraft(`policy:${props.site}`);
const policy = ref<Policy>(draft.words.value ? (JSON.parse(draft.words.value) as Policy) : {});
const saved = computed(() => written(shown.value?.policy ?? {}));
const seen = ref<{ tag: string; policy: Policy } | null>(null);
watch(
  shown,
  (now) => {
    if (!now || seen.value) return;
    seen.value = { tag: now.tag, policy: written(now.policy) };
    if (!draft.words.value) policy.value = { ...seen.value.policy };
  },
  { immediate: true },
);
const sorted = (value: Policy) =>
  JSON.stringify(
    Object.entries(value)
      .filter(([, one]) => one !== undefined)
      .sort(),
  );
const changed = computed(
  () => seen.value !== null && sorted(policy.value) !== sorted(seen.value.policy),
);
watch(
  policy,
  (now) => {
    draft.words.value = changed.value ? JSON.stringify(now) : "";
  },
  { deep: true },
);
const set = (name: string, value: unknown) => {
  policy.value = { ...policy.value, [name]: value };
  tried.value = null;
};
const mayChange = computed(() => session.me?.role === "manager");

const tried = ref<Awaited<ReturnType<typeof ask>> | null>(null);
const ask = () =>
  data(
    api.POST("/api/v1/sites/{slug}/policy/trial", {
      params: { path: path.value },
      body: { policy: policy.value },
    }),
  );
const trial = useMutation({
  mutationFn: ask,
  onSuccess: async (made) => {
    tried.value = made;
    await nextTick();
    document.getElementById("trial")?.focus();
  },
});
const verdict = computed(() => {
  if (!tried.value) return "";
  if (tried.value.sweep_id === null)
    return "No sweep is finished yet, so there is nothing to try it on.";
  const more = tried.value.ready_after - tried.value.ready_before;
  return `${more === 0 ? "As many pages ready as now" : `${count(Math.abs(more), "page")} ${more < 0 ? "fewer" : "more"} ready`}: ${number(tried.value.ready_after)} of ${number(tried.value.pages)} instead of ${number(tried.value.ready_before)}, on sweep ${tried.value.sweep_id}.`;
});

const theirs = ref<Policy | null>(null);
const save = useMutation({
  mutationFn: (tag: string) =>
    data(
      api.PATCH("/api/v1/sites/{slug}", {
        params: { path: path.value, header: { "if-match": tag } },
        body: { policy: policy.value },
      }),
    ),
  onSuccess: (after) => {
    const before = seen.value!.policy;
    seen.value = { tag: after.tag, policy: written(after.policy) };
    theirs.value = tried.value = null;
    draft.forget();
    cache.setQueryData(["site", { slug: props.site }], after);
    announce("The policy is saved. It counts from the next sweep on.", async () => {
      policy.value = { ...before };
      await save.mutateAsync(seen.value!.tag);
    });
  },
  onError: async (problem) => {
    if (!(problem instanceof Problem) || problem.code !== "changed-meanwhile") return;
    const now = (await refetch()).data!;
    theirs.value = written(now.policy);
    seen.value = { tag: now.tag, policy: written(now.policy) };
  },
});
const differences = computed(() =>
  [...new Set([...Object.keys(policy.value), ...Object.keys(theirs.value ?? {})])].filter(
    (name) => JSON.stringify(policy.value[name]) !== JSON.stringify(theirs.value?.[name]),
  ),
);
const shownValue = (value: unknown) =>
  value === undefined
    ? "default"
    : Array.isArray(value)
      ? value.join(", ")
      : typeof value === "object"
        ? JSON.stringify(value)
        : String(value);
function discard() {
  policy.value = { ...saved.value };
  draft.forget();
  theirs.value = tried.value = null;
}
</script>

<template>
  <AsyncState
    :loading="!(error ?? fieldsError) && (isPending || !fields)"
    :error="error ?? fieldsError"
    what="the policy"
    @again="
      refetch();
      askFields();
    "
  >
    <div class="stack">
      <div class="titled">
        <h1 tabindex="-1">Policy</h1>
        <TermHelp term="policy" />
      </div>
      <p v-if="draft.isKept" class="soft">
        What you changed before and did not save is still here.
      </p>
      <section v-if="theirs" class="card conflict" role="alert" aria-labelledby="theirs-title">
        <h2 id="theirs-title">Somebody saved the policy meanwhile</h2>
        <table class="plain">
          <caption class="only-aloud">
            Your policy and theirs
          </caption>
          <thead>
            <tr>
              <th scope="col">Field</th>
              <th scope="col">Yours</th>
              <th scope="col">Theirs</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="name in differences" :key="name">
              <th scope="row">{{ name }}</th>
              <td>{{ shownValue(policy[name]) }}</td>
              <td>{{ shownValue(theirs[name]) }}</td>
            </tr>
          </tbody>
        </table>
        <div class="row">
          <Button label="Save mine over it" @click="save.mutate(seen!.tag)" /><Button
            label="Take theirs"
            variant="outlined"
            @click="discard"
          />
        </div>
      </section>
      <form class="card" aria-label="Policy" @submit.prevent="save.mutate(seen!.tag)">
        <PolicyField
          v-for="field in fields!.items.filter((one) => !APART.includes(one.name))"
          :key="field.name"
          :field="field"
          :model-value="policy[field.name]"
          @update:model-value="(value) => set(field.name, value)"
        />
        <h2 class="checks-title">Checks</h2>
        <PolicyChecks
          :site="site"
          :without="policy.without as string[] | undefined"
          :parameters="policy.parameters as Record<string, Record<string, unknown>> | undefined"
          @update:without="(value) => set('without', value)"
          @update:parameters="(value) => set('parameters', value)"
        />
        <div v-if="mayChange" class="row bar">
          <Button
            label="Try it on the last sweep"
            variant="outlined"
            :disabled="!changed"
            :loading="trial.isPending.value"
            @click="trial.mutate()"
          />
          <Button
            type="submit"
            label="Save the policy"
            :disabled="!changed"
            :loading="save.isPending.value"
          />
          <Button v-if="changed" label="Forget my changes" variant="text" @click="discard" />
        </div>
      </form>
      <Message
        v-if="trial.error.value ?? (theirs ? null : save.error.value)"
        severity="error"
        role="alert"
        >{{ says(trial.error.value ?? save.error.value) }}</Message
      >
      <section v-if="tried" id="trial" class="card" tabindex="-1" aria-labelledby="trial-title">
        <h2 id="trial-title">What it would do</h2>
        <p>
          <strong>{{ verdict }}</strong>
        </p>
        <p v-if="tried.needs_sweep.length">
          What {{ tried.needs_sweep.join(", ") }} would change shows only when the pages are read
          again.
        </p>
        <template
          v-for="[says_, paths] in [
            ['Held by it', tried.held],
            ['Ready by it', tried.freed],
          ] as const"
          :key="says_"
          ><details v-if="paths.length">
            <summary>{{ says_ }}: {{ count(paths.length, "page") }}</summary>
            <ul>
              <li v-for="one in paths.slice(0, 100)" :key="one">
                <RouterLink :to="{ name: 'page', params: { site }, query: { path: one } }">{{
                  one
                }}</RouterLink>
              </li>
            </ul>
          </details></template
        >
      </section>
    </div>
  </AsyncState>
</template>

<style scoped>
.checks-title {
  margin-top: 18px;
}
.bar {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  padding: 12px 0;
  border-top: 1px solid var(--line);
  margin-top: 12px;
}
/* What takes focus is scrolled to above the bar, not under it. */
:global(html:has(form .bar)) {
  scroll-padding-bottom: 160px;
}
.conflict {
  border: 2px solid var(--barrier);
}
</style>
