<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { signIn } from "@/session";

const route = useRoute();
const router = useRouter();
const email = ref("");
const password = ref("");
const problem = ref("");
const busy = ref(false);

async function enter() {
  busy.value = true;
  problem.value = "";
  try {
    await signIn(email.value, password.value);
    const wanted = String(route.query.to ?? "/");
    await router.push(wanted.startsWith("/") && !wanted.startsWith("//") ? wanted : "/");
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="card" @submit.prevent="enter">
    <h1 tabindex="-1">Sign in</h1>
    <p class="soft">Plum Rake reads every page before it is published and tracks what has to be mended.</p>
    <Message v-if="problem" severity="error" role="alert">{{ problem }}</Message>
    <label for="email">E-mail address</label>
    <InputText id="email" v-model="email" type="email" autocomplete="username" required />
    <label for="password">Password</label>
    <InputText id="password" v-model="password" type="password" autocomplete="current-password" required />
    <Button type="submit" label="Sign in" :loading="busy" />
  </form>
</template>

<style scoped>
form { max-width: 420px; margin: 8vh auto 0; display: grid; gap: 8px; }
label { font-weight: 600; margin-top: 8px; }
button { margin-top: 16px; }
</style>
