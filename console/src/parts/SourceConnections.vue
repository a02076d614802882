<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import type { Environment } from "@/choices";
import { says, time } from "@/format";
import ChoiceField from "@/parts/ChoiceField.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { announce } from "@/use/announcements";

/** Where the sources of a site are, whether that works, and connecting them; for managers. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const KINDS = [
  { label: "a folder of the service", value: "folder" },
  { label: "a git repository of the service", value: "git" },
  { label: "a WordPress with our plugin", value: "wordpress" },
  { label: "the demo's stand-in CMS", value: "stand-in" },
];
/** What says where sources of a kind are. */
const PLACES: Record<string, { label: string; field: "folder" | "repository" | "address" }> = {
  folder: { label: "Folder", field: "folder" },
  git: { label: "Repository", field: "repository" },
  wordpress: { label: "Address", field: "address" },
  "stand-in": { label: "Address", field: "address" },
};
const ENVIRONMENTS = [
  { label: "live", value: "live" },
  { label: "staging", value: "staging" },
];
const { data: found } = useQuery({
  queryKey: ["connections", computed(() => props.site)],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/connections", { params: { path: { slug: props.site } } })),
});
const check = useMutation({
  mutationFn: (environment: Environment) =>
    data(
      api.POST("/api/v1/sites/{slug}/connections/{environment}/check", {
        params: { path: { slug: props.site, environment } },
      }),
    ),
});
const kind = ref<string | null | undefined>("folder");
const environment = ref<string | null | undefined>("live");
const where = ref("");
const user = ref("");
const secret = ref("");
const connect = useMutation({
  mutationFn: () =>
    data(
      api.PUT("/api/v1/sites/{slug}/connections/{environment}", {
        params: { path: { slug: props.site, environment: environment.value as Environment } },
        body: {
          kind: kind.value as "folder",
          [PLACES[kind.value!]!.field]: where.value.trim(),
          ...(kind.value === "wordpress" ? { user: user.value.trim() } : {}),
          secret: secret.value || null,
        },
      }),
    ),
  onSuccess: (made) => {
    where.value = user.value = secret.value = "";
    announce(`Connected: ${made.works.join("; ")}.`);
    return cache.invalidateQueries({ queryKey: ["connections"] });
  },
});
</script>

<template>
  <section class="card stack tight" aria-labelledby="sources-title">
    <h2 id="sources-title">Where the sources are <TermHelp term="connection" /></h2>
    <ul v-if="found?.items.length" class="plain-list" aria-labelledby="sources-title">
      <li v-for="one in found.items" :key="one.environment" class="stack tight">
        <div class="row spread">
          <span
            ><strong>{{ one.environment }}</strong
            >: {{ one.kind }}
            <code>{{ Object.values(one.settings).join(" ") }}</code>
            <span class="soft small"> {{ one.made_by }}, {{ time(one.made_at) }}</span></span
          >
          <Button
            label="Check"
            size="small"
            variant="outlined"
            :aria-label="`Check the connection of ${one.environment}`"
            :loading="check.isPending.value && check.variables.value === one.environment"
            @click="check.mutate(one.environment)"
          />
        </div>
        <div v-if="check.data.value?.environment === one.environment" role="status">
          <p v-for="line in check.data.value.works" :key="line" class="good">✓ {{ line }}</p>
          <p v-if="check.data.value.problem" class="bad">✗ {{ check.data.value.problem }}</p>
        </div>
      </li>
    </ul>
    <p v-else class="soft">
      Nothing says where they are: corrections can be downloaded, and are written by nobody.
    </p>
    <details>
      <summary>Connect them</summary>
      <form class="fields" aria-label="Connect the sources" @submit.prevent="connect.mutate()">
        <ChoiceField v-model="environment" label="Of" :options="ENVIRONMENTS" :all="null" />
        <ChoiceField v-model="kind" label="They are in" :options="KINDS" :all="null" />
        <div class="field grow">
          <label for="c-where">{{ PLACES[kind ?? "folder"]!.label }}</label><InputText
            id="c-where"
            v-model="where"
            required
            maxlength="1000"
          />
        </div>
        <div v-if="kind === 'wordpress'" class="field">
          <label for="c-user">Name that Plum Rake signs in with</label
          ><InputText id="c-user" v-model="user" required autocomplete="off" maxlength="200" />
        </div>
        <div v-if="kind === 'stand-in' || kind === 'wordpress'" class="field">
          <label for="c-secret"
            >{{ kind === "wordpress" ? "Application password" : "Secret" }}, never shown
            again</label
          ><InputText
            id="c-secret"
            v-model="secret"
            type="password"
            autocomplete="off"
            maxlength="500"
          />
        </div>
        <Button type="submit" label="Try and keep" :loading="connect.isPending.value" />
      </form>
      <Message v-if="connect.error.value" severity="error" role="alert">{{
        says(connect.error.value)
      }}</Message>
    </details>
    <Message v-if="check.error.value" severity="error" role="alert">{{
      says(check.error.value)
    }}</Message>
  </section>
</template>

<style scoped>
.good {
  color: var(--good);
  margin: 0;
}
.bad {
  color: var(--barrier-ink);
  margin: 0;
}
</style>
