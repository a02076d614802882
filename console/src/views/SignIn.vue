<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, Problem } from "@/api/client";
import { capital, says } from "@/format";
import EntryForm from "@/parts/EntryForm.vue";
import { signIn } from "@/session";
import { hasPasskeys, signInByPasskey } from "@/use/passkeys";

const route = useRoute();
const router = useRouter();
const email = ref("");
const password = ref("");
const code = ref("");
/** What the service wants beside the password, in its words; empty until it says so. */
const wanted = ref("");
const problem = ref(String(route.query.problem ?? ""));
const { data: start } = useQuery({
  queryKey: ["start"],
  queryFn: () => data(api.GET("/api/v1/start")),
});
const to = computed(() => {
  const place = String(route.query.to ?? "/");
  return place.startsWith("/") && !place.startsWith("//") ? place : "/";
});
const elsewhere = computed(
  () => `/api/v1/session/single-sign-on?${new URLSearchParams({ to: to.value })}`,
);

async function enter() {
  problem.value = "";
  try {
    await signIn(email.value, password.value, code.value);
  } catch (error) {
    const isWanted = error instanceof Problem && error.code === "second-factor-wanted";
    if (!isWanted) throw error;
    if (wanted.value) throw error;
    wanted.value = says(error);
    await nextTick();
    document.getElementById("code")?.focus();
    return;
  }
  await router.push(to.value);
}

async function enterByPasskey() {
  problem.value = "";
  try {
    await signInByPasskey();
    await router.push(to.value);
  } catch (error) {
    problem.value = says(error);
  }
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
    <Message v-if="problem" severity="error" role="alert">{{ problem }}</Message>
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
    <template v-if="wanted">
      <p role="status">{{ capital(wanted) }}</p>
      <label for="code">Code of your app, or a recovery code</label>
      <InputText id="code" v-model="code" autocomplete="one-time-code" required />
    </template>
    <template #more>
      <Button
        v-if="hasPasskeys"
        label="Sign in with a passkey"
        variant="outlined"
        @click="enterByPasskey"
      />
      <Button
        v-if="start?.single_sign_on"
        as="a"
        :href="elsewhere"
        :label="`Sign in at ${start.single_sign_on}`"
        variant="outlined"
      />
      <p><RouterLink :to="{ name: 'forgotten' }">Password forgotten?</RouterLink></p>
    </template>
  </EntryForm>
</template>
