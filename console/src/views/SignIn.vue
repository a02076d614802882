<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import InputText from "primevue/inputtext";
import { api, data } from "@/api/client";
import EntryForm from "@/parts/EntryForm.vue";
import { signIn } from "@/session";

const route = useRoute();
const router = useRouter();
const email = ref("");
const password = ref("");
const { data: start } = useQuery({
  queryKey: ["start"],
  queryFn: () => data(api.GET("/api/v1/start")),
});

async function enter() {
  await signIn(email.value, password.value);
  const wanted = String(route.query.to ?? "/");
  await router.push(wanted.startsWith("/") && !wanted.startsWith("//") ? wanted : "/");
}
</script>

<template>
  <EntryForm
    title="Sign in"
    lead="Plum Rake reads every page before it is published and tracks what has to be mended."
    :enter="enter"
  >
    <p v-if="start?.empty">
      Nobody can sign in here yet.
      <RouterLink :to="{ name: 'start' }">Begin as the first person</RouterLink>
    </p>
    <label for="email">E-mail address</label>
    <InputText id="email" v-model="email" type="email" autocomplete="username" required />
    <label for="password">Password</label>
    <InputText
      id="password"
      v-model="password"
      type="password"
      autocomplete="current-password"
      required
    />
  </EntryForm>
</template>
