<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { says } from "@/format";
import { session } from "@/session";

/** In which roles people need a second factor in a site; its managers say. */
type Role = "manager" | "editor" | "developer" | "reader";
const ROLES: Role[] = ["manager", "editor", "developer", "reader"];
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const { data: site } = useQuery({
  queryKey: ["site", computed(() => props.site)],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: { path: path.value } })),
});
const choose = useMutation({
  mutationFn: (roles: Role[]) =>
    data(
      api.PATCH("/api/v1/sites/{slug}", {
        params: { path: path.value, header: { "if-match": site.value?.tag } },
        body: { second_factor_roles: roles },
      }),
    ),
  onSuccess: (after) => {
    cache.setQueryData(["site", props.site], after);
    const who = after.second_factor_roles.map((role) => `${role}s`).join(", ");
    emit("said", who ? `A second factor is wanted of ${who}.` : "No second factor is wanted.");
  },
});
function change(role: Role, event: Event) {
  const wanted = (event.target as HTMLInputElement).checked;
  const now = site.value?.second_factor_roles ?? [];
  choose.mutate(ROLES.filter((one) => (one === role ? wanted : now.includes(one))));
}
</script>

<template>
  <section v-if="site && session.me?.role === 'manager'" class="card stack">
    <h2>Second factor</h2>
    <Message v-if="choose.error.value" severity="error" role="alert">{{
      says(choose.error.value)
    }}</Message>
    <fieldset>
      <legend>
        Who in these roles sees nothing of this site until they have set up an app for codes or a
        passkey:
      </legend>
      <label v-for="role in ROLES" :key="role" class="choice"
        ><input
          type="checkbox"
          :checked="site.second_factor_roles.includes(role)"
          @change="(event) => change(role, event)"
        />
        {{ role }}</label
      >
    </fieldset>
  </section>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
}
.choice {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
