<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, ownerOf } from "@/api/client";
import { says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import SecondFactorRoles from "@/parts/SecondFactorRoles.vue";
import SiteMembers from "@/parts/SiteMembers.vue";
import { session } from "@/session";

const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const isManager = computed(() => session.me?.role === "manager");
const {
  data: people,
  isPending,
  error,
  refetch,
} = useQuery({ queryKey: ["people"], queryFn: () => data(api.GET("/api/v1/people")) });
const {
  data: groups,
  isPending: groupsIsPending,
  error: groupsError,
  refetch: refetchGroups,
} = useQuery({
  queryKey: ["groups"],
  queryFn: () => data(api.GET("/api/v1/groups")),
});
const { data: areas } = useQuery({
  queryKey: ["responsibilities", computed(() => props.site)],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/responsibilities", { params: { path: { slug: props.site } } }),
    ),
});
const names = computed(
  () => new Map(people.value?.items.map((person) => [person.id, person.name])),
);

const said = ref("");
const say = (words: string) => {
  said.value = words;
  document.getElementById("p-said")?.focus();
};
const groupName = ref("");
const members = ref<number[]>([]);
const addGroup = useMutation({
  mutationFn: () =>
    data(api.POST("/api/v1/groups", { body: { name: groupName.value, members: members.value } })),
  onSuccess: async (made) => {
    await cache.invalidateQueries({ queryKey: ["groups"] });
    groupName.value = "";
    members.value = [];
    say(`The group ${made.name} is there.`);
  },
});
const pattern = ref("");
const owner = ref("none");
const assign = useMutation({
  mutationFn: (what: { pattern: string; owner: string }) =>
    api.PUT("/api/v1/sites/{slug}/responsibilities", {
      params: { path: { slug: props.site } },
      body: { pattern: what.pattern, owner: ownerOf(what.owner)! },
    }),
  onSuccess: async (_, what) => {
    await cache.invalidateQueries({ queryKey: ["responsibilities"] });
    pattern.value = "";
    say(`${what.pattern} is settled.`);
  },
});
const problem = computed(() => addGroup.error.value ?? assign.error.value);
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">People and their areas</h1>
    <p id="p-said" role="status" tabindex="-1" class="said">{{ said }}</p>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <AsyncState :loading="isPending" :error="error" what="the people" @again="refetch()">
      <section class="card" aria-labelledby="responsible-title">
        <h2 id="responsible-title">Who is responsible</h2>
        <p class="soft">
          In a path * stands for anything; the most specific area wins. “template” is what the
          site's templates print, on whatever page.
        </p>
        <p v-if="!areas?.items.length">
          Nobody is responsible for any area yet; what is handed out goes to whoever you name.
        </p>
        <table v-else class="plain">
          <caption class="only-aloud">
            Areas and their owners
          </caption>
          <thead>
            <tr>
              <th scope="col">Area</th>
              <th scope="col">Owner</th>
              <th v-if="isManager" scope="col">Change</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="area in areas?.items" :key="area.pattern">
              <th scope="row">{{ area.pattern }}</th>
              <td>{{ area.owner }}</td>
              <td v-if="isManager">
                <Button
                  label="Drop"
                  size="small"
                  variant="outlined"
                  :aria-label="`Drop the area ${area.pattern}`"
                  @click="assign.mutate({ pattern: area.pattern, owner: 'none' })"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <form
          v-if="isManager"
          class="fields form"
          aria-label="Set who is responsible"
          @submit.prevent="assign.mutate({ pattern, owner })"
        >
          <div class="field">
            <label for="p-pattern">Area</label
            ><InputText id="p-pattern" v-model="pattern" placeholder="/news/*" required />
          </div>
          <OwnerPick id="p-owner" v-model="owner" label="Owner" nobody />
          <Button type="submit" label="Settle" variant="outlined" />
        </form>
      </section>
      <SiteMembers :site="site" @said="say" />
      <SecondFactorRoles :site="site" @said="say" />
      <section class="card" aria-labelledby="groups-title">
        <h2 id="groups-title">Groups</h2>
        <AsyncState
          :loading="groupsIsPending"
          :error="groupsError"
          what="the groups"
          @again="refetchGroups()"
        >
          <ul v-if="groups?.items.length">
            <li v-for="group in groups.items" :key="group.id">
              <strong>{{ group.name }}</strong>:
              {{ group.members.map((id) => names.get(id)).join(", ") || "nobody" }}
            </li>
          </ul>
          <p v-else class="soft">
            None. What a group owns stands on the desk of each of its people.
          </p>
        </AsyncState>
        <form
          v-if="session.isOperator"
          class="stack form"
          aria-label="Add a group"
          @submit.prevent="addGroup.mutate()"
        >
          <div class="field">
            <label for="p-group">Name of the group</label
            ><InputText id="p-group" v-model="groupName" required maxlength="200" />
          </div>
          <fieldset class="boxed row">
            <legend>Who is in it</legend>
            <label v-for="person in people?.items" :key="person.id" class="member"
              ><input v-model="members" type="checkbox" :value="person.id" />
              {{ person.name }}</label
            >
          </fieldset>
          <div><Button type="submit" label="Add the group" variant="outlined" /></div>
        </form>
      </section>
    </AsyncState>
  </div>
</template>

<style scoped>
.form {
  margin-top: 16px;
}
.said {
  overflow-wrap: anywhere;
}
.member {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
