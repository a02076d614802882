<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api } from "@/api/client";
import EntryForm from "@/parts/EntryForm.vue";
import NewPasswordField from "@/parts/NewPasswordField.vue";

const route = useRoute();
const router = useRouter();
const password = ref("");

async function enter() {
  await api.POST("/api/v1/password/new", {
    body: { secret: route.hash.slice(1), password: password.value },
  });
  await router.push({ name: "sign-in" });
}
</script>

<template>
  <EntryForm
    title="Choose a new password"
    lead="You are signed out everywhere then, and sign in with the new one."
    :enter="enter"
  >
    <NewPasswordField v-model="password" />
  </EntryForm>
</template>
