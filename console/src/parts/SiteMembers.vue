<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { type Role, listed, roles, whereabouts } from "@/members";
import { says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import SiteInvitations from "@/parts/SiteInvitations.vue";
import { session } from "@/session";

/** Who is in a site, as what. Managers of the site add and take out; who runs the service shuts people out altogether. */
interface Member {
  email: string;
  role: Role;
  areas?: string[] | null;
}
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const isManager = computed(() => session.me?.role === "manager");
const path = computed(() => ({ slug: props.site }));
const {
  data: members,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["members", computed(() => props.site)],
  queryFn: () => data(api.GET("/api/v1/sites/{slug}/members", { params: { path: path.value } })),
});
async function settled(words: string) {
  await Promise.all(
    ["members", "people"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
  );
  emit("said", words);
}

const put = useMutation({
  mutationFn: ({ email, role, areas }: Member) =>
    data(
      api.POST("/api/v1/sites/{slug}/members", {
        params: { path: path.value },
        body: { email, role, areas: role === "manager" ? [] : (areas ?? []) },
      }),
    ),
  onSuccess: (member) => {
    added.value = addedAreas.value = "";
    const alone = member.areas ? `, for ${member.areas.join(" ")} alone` : "";
    return settled(`${member.name} is ${member.role} in this site${alone}.`);
  },
});
const drop = useMutation({
  mutationFn: (member: { id: number; name: string }) =>
    data(
      api.DELETE("/api/v1/sites/{slug}/members/{person_id}", {
        params: { path: { slug: props.site, person_id: member.id } },
      }),
    ),
  onSuccess: (_, member) => settled(`${member.name} is not in this site any more.`),
});
const shut = useMutation({
  mutationFn: (member: { id: number; active: boolean }) =>
    data(
      api.PATCH("/api/v1/people/{person_id}", {
        params: { path: { person_id: member.id } },
        body: { active: !member.active },
      }),
    ),
  onSuccess: (person) =>
    settled(`${person.name} ${person.active ? "may come in again" : "may not come in"}.`),
});
const added = ref("");
const addedRole = ref<Role>("editor");
const addedAreas = ref("");
const problem = computed(() => put.error.value ?? drop.error.value ?? shut.error.value);
</script>

<template>
  <section class="card" aria-labelledby="people-title">
    <h2 id="people-title">People</h2>
    <p class="soft">
      Who is not in this list is told nothing of this site, not even that it is here.
    </p>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <AsyncState :loading="isPending" :error="error" what="the people" @again="refetch()">
      <div class="scrolls" role="region" aria-label="List of people" tabindex="0">
        <table class="plain">
          <caption class="only-aloud">
            People and roles
          </caption>
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">E-mail</th>
              <th scope="col">Role</th>
              <th scope="col">Where</th>
              <th v-if="isManager" scope="col">Change</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="member in members?.items" :key="member.id">
              <th scope="row">{{ member.name }}</th>
              <td>{{ member.email }}</td>
              <td>
                <Select
                  v-if="isManager"
                  :model-value="member.role"
                  :options="roles"
                  :aria-label="`Role of ${member.name}`"
                  @update:model-value="(value) => put.mutate({ ...member, role: value })"
                /><template v-else>{{ member.role }}</template>
              </td>
              <td>{{ whereabouts(member.areas, member.is_everywhere) }}</td>
              <td v-if="isManager">
                <div class="row">
                  <Button
                    v-if="!member.is_everywhere"
                    label="Take out"
                    size="small"
                    variant="outlined"
                    :aria-label="`Take out ${member.name}`"
                    @click="drop.mutate(member)"
                  />
                  <Button
                    v-if="session.isOperator"
                    :label="member.active ? 'Shut out' : 'Let in'"
                    size="small"
                    variant="outlined"
                    :aria-label="`${member.active ? 'Shut out' : 'Let in'} ${member.name}`"
                    @click="shut.mutate(member)"
                  />
                  <template v-else-if="!member.active">may not sign in</template>
                </div>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <h3 v-if="isManager">Add somebody who can sign in</h3>
      <form
        v-if="isManager"
        class="fields"
        aria-label="Add somebody who can sign in"
        @submit.prevent="put.mutate({ email: added, role: addedRole, areas: listed(addedAreas) })"
      >
        <div class="field">
          <label for="p-added">Their e-mail</label
          ><InputText id="p-added" v-model="added" type="email" required />
        </div>
        <div class="field">
          <span id="p-added-role">Role in this site</span
          ><Select v-model="addedRole" aria-labelledby="p-added-role" :options="roles" />
        </div>
        <div v-if="addedRole !== 'manager'" class="field">
          <label for="p-added-areas">For these pages alone, if not for all</label
          ><InputText
            id="p-added-areas"
            v-model="addedAreas"
            placeholder="/boating/* /moorings/*"
          />
        </div>
        <Button type="submit" label="Add" variant="outlined" :loading="put.isPending.value" />
      </form>
      <SiteInvitations
        v-if="session.isOperator"
        :site="site"
        @said="(words) => emit('said', words)"
      />
    </AsyncState>
  </section>
</template>

<style scoped>
h3 {
  margin: 20px 0 8px;
}
tbody :is(th, td) {
  vertical-align: middle;
}
</style>
