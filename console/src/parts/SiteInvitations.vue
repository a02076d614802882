<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { day, says } from "@/format";
import { type Role, listed, roles, whereabouts } from "@/members";

/** Inviting somebody who cannot sign in yet, and who is invited; for who runs the service. */
const props = defineProps<{ site: string }>();
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const { data: invitations } = useQuery({
  queryKey: ["invitations"],
  queryFn: () => data(api.GET("/api/v1/invitations")),
});
const invited = computed(() =>
  (invitations.value?.items ?? []).filter((one) => !one.site || one.site === props.site),
);
async function settled(words: string) {
  await cache.invalidateQueries({ queryKey: ["invitations"] });
  emit("said", words);
}
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

const invitedAreas = ref("");
const name = ref("");
const email = ref("");
const role = ref<Role>("editor");
const where = ref<"here" | "everywhere">("here");
const places = [
  { label: "This site", value: "here" },
  { label: "Every site", value: "everywhere" },
];

const problem = computed(() => invite.error.value ?? uninvite.error.value);
</script>

<template>
  <div>
    <h3>Invite somebody who cannot sign in yet</h3>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <form class="fields" aria-label="Invite somebody" @submit.prevent="invite.mutate()">
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
                  :aria-label="`Take back the invitation to ${one.name}`"
                  @click="uninvite.mutate(one)"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
h3 {
  margin: 20px 0 8px;
}
</style>
