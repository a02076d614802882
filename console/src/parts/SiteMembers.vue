<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { day, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import { session } from "@/session";

/** Who is in a site, as what. Managers of the site add and take out; who runs the service invites, and shuts people out altogether. */
type Role = "manager" | "editor" | "developer" | "reader";
interface Member {
  email: string;
  role: Role;
  areas?: string[] | null;
}
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ said: [words: string] }>();
const roles: Role[] = ["manager", "editor", "developer", "reader"];
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
const { data: invitations } = useQuery({
  queryKey: ["invitations"],
  queryFn: () => data(api.GET("/api/v1/invitations")),
  enabled: computed(() => session.isOperator),
});
const invited = computed(() =>
  (invitations.value?.items ?? []).filter((one) => !one.site || one.site === props.site),
);
async function settled(words: string) {
  await Promise.all(
    ["members", "people", "invitations"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
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
const invite = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/invitations", {
        body: {
          email: email.value,
          name: name.value,
          role: role.value,
          site: where.value === "here" ? props.site : null,
          areas: where.value === "here" ? listed(invitedAreas.value) : [],
        },
      }),
    ),
  onSuccess: (made) => {
    email.value = name.value = invitedAreas.value = "";
    return settled(
      `Send ${made.name} this address, which is shown only now: ${location.origin}/invitation#${made.secret}`,
    );
  },
});
const uninvite = useMutation({
  mutationFn: (invitation: { id: number; name: string }) =>
    data(
      api.DELETE("/api/v1/invitations/{invitation_id}", {
        params: { path: { invitation_id: invitation.id } },
      }),
    ),
  onSuccess: (_, invitation) => settled(`${invitation.name} is not invited any more.`),
});

const added = ref("");
const addedRole = ref<Role>("editor");
const addedAreas = ref("");
const invitedAreas = ref("");
const name = ref("");
const email = ref("");
const role = ref<Role>("editor");
const where = ref<"here" | "everywhere">("here");
const places = [
  { label: "This site", value: "here" },
  { label: "Every site", value: "everywhere" },
];

function whereabouts(areas: string[] | null | undefined, isEverywhere: boolean): string {
  if (areas?.length) return `${areas.join(" ")} alone`;
  return isEverywhere ? "every site" : "this site";
}
function listed(areas: string): string[] {
  return areas.split(/\s+/).filter(Boolean);
}
const problem = computed(
  () =>
    put.error.value ??
    drop.error.value ??
    shut.error.value ??
    invite.error.value ??
    uninvite.error.value,
);
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
                    :aria-label="`Take ${member.name} out of this site`"
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
      <h3 v-if="session.isOperator">Invite somebody who cannot sign in yet</h3>
      <form
        v-if="session.isOperator"
        class="fields"
        aria-label="Invite somebody"
        @submit.prevent="invite.mutate()"
      >
        <div class="field">
          <label for="p-name">Name</label
          ><InputText id="p-name" v-model="name" required maxlength="200" />
        </div>
        <div class="field">
          <label for="p-email">E-mail</label
          ><InputText id="p-email" v-model="email" type="email" required />
        </div>
        <div class="field">
          <span id="p-role">Role</span
          ><Select v-model="role" aria-labelledby="p-role" :options="roles" />
        </div>
        <div class="field">
          <span id="p-where">In</span
          ><Select
            v-model="where"
            aria-labelledby="p-where"
            :options="places"
            option-label="label"
            option-value="value"
          />
        </div>
        <div v-if="where === 'here' && role !== 'manager'" class="field">
          <label for="p-areas">For these pages alone, if not for all</label
          ><InputText id="p-areas" v-model="invitedAreas" placeholder="/boating/* /moorings/*" />
        </div>
        <Button type="submit" label="Invite" :loading="invite.isPending.value" />
      </form>
      <template v-if="invited.length">
        <h3 id="invited-title">Invited, and not in yet</h3>
        <div class="scrolls" role="region" aria-labelledby="invited-title" tabindex="0">
          <table class="plain">
            <caption class="only-aloud">
              Open invitations
            </caption>
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">E-mail</th>
                <th scope="col">Role</th>
                <th scope="col">Where</th>
                <th scope="col">Holds until</th>
                <th scope="col">Change</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in invited" :key="one.id">
                <th scope="row">{{ one.name }}</th>
                <td>{{ one.email }}</td>
                <td>{{ one.role }}</td>
                <td>{{ whereabouts(one.areas, !one.site) }}</td>
                <td>{{ day(one.expires_at) }}</td>
                <td>
                  <Button
                    label="Take back"
                    size="small"
                    variant="outlined"
                    :aria-label="`Take the invitation to ${one.name} back`"
                    @click="uninvite.mutate(one)"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
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
