<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { says } from "@/format";
import { signIn } from "@/session";

const route = useRoute();
const router = useRouter();
const password = ref("");
const problem = ref("");
const busy = ref(false);

async function enter() {
  busy.value = true;
  problem.value = "";
  try {
    const person = await data(api.POST("/api/v1/invitations/accept", { body: { secret: route.hash.slice(1), password: password.value } }));
    await signIn(person.email, password.value);
    await router.push({ name: "desk" });
  } catch (error) {
    problem.value = says(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="card" @submit.prevent="enter">
    <h1 tabindex="-1">Come in</h1>
    <p class="soft">You are invited to Plum Rake. Choose a password to come in with.</p>
    <Message v-if="problem" severity="error" role="alert">{{ problem }}</Message>
    <label for="new-password">Password, ten characters or more</label>
    <InputText id="new-password" v-model="password" type="password" autocomplete="new-password" minlength="10" required />
    <Button type="submit" label="Come in" :loading="busy" />
  </form>
</template>

<style scoped>
form { max-width: 420px; margin: 8vh auto 0; display: grid; gap: 8px; }
label { font-weight: 600; margin-top: 8px; } button { margin-top: 16px; }
</style>
