<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api, data } from "@/api/client";
import EntryForm from "@/parts/EntryForm.vue";
import NewPasswordField from "@/parts/NewPasswordField.vue";
import { signIn } from "@/session";

const route = useRoute();
const router = useRouter();
const password = ref("");

async function enter() {
  const person = await data(
    api.POST("/api/v1/invitations/accept", {
      body: { secret: route.hash.slice(1), password: password.value },
    }),
  );
  await signIn(person.email, password.value);
  await router.push({ name: "desk" });
}
</script>

<template>
  <EntryForm
    title="Accept invitation"
    lead="You are invited to Plum Rake. Choose a password to sign in with."
    :enter="enter"
  >
    <NewPasswordField v-model="password" />
  </EntryForm>
</template>
