<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import InputText from "primevue/inputtext";
import { api, data } from "@/api/client";
import EntryForm from "@/parts/EntryForm.vue";
import NewPasswordField from "@/parts/NewPasswordField.vue";
import { signIn } from "@/session";

/** The first person of an empty service, who comes with the key that it printed when it started. */
const route = useRoute();
const router = useRouter();
const { data: start } = useQuery({
  queryKey: ["start"],
  queryFn: () => data(api.GET("/api/v1/start")),
});
const key = ref(route.hash.slice(1));
const name = ref("");
const email = ref("");
const password = ref("");

async function enter() {
  await api.POST("/api/v1/start", {
    body: { key: key.value.trim(), name: name.value, email: email.value, password: password.value },
  });
  await signIn(email.value, password.value);
  await router.push({ name: "new-site" });
}
</script>

<template>
  <div v-if="start && !start.empty" class="card stack tight">
    <h1 tabindex="-1">There is somebody already</h1>
    <p>
      Others are invited by a manager. <RouterLink :to="{ name: 'sign-in' }">Sign in</RouterLink>
    </p>
  </div>
  <EntryForm
    v-else
    title="Begin"
    lead="Nobody can sign in here yet. You are the first: you will manage sites and invite the others."
    :enter="enter"
  >
    <label for="b-key">Key</label>
    <InputText id="b-key" v-model="key" autocomplete="off" required aria-describedby="b-key-says" />
    <span id="b-key-says" class="soft small"
      >The service printed it in its log when it started.</span
    >
    <label for="b-name">Your name</label>
    <InputText id="b-name" v-model="name" autocomplete="name" required />
    <label for="b-email">E-mail address</label>
    <InputText id="b-email" v-model="email" type="email" autocomplete="username" required />
    <NewPasswordField v-model="password" :about="[name, email]" />
  </EntryForm>
</template>
