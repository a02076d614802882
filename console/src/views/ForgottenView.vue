<script setup lang="ts">
import { ref } from "vue";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api } from "@/api/client";
import EntryForm from "@/parts/EntryForm.vue";

const email = ref("");
const sent = ref(false);

async function enter() {
  await api.POST("/api/v1/password/forgotten", { body: { email: email.value } });
  sent.value = true;
}
</script>

<template>
  <EntryForm
    title="Password forgotten?"
    lead="An e-mail brings the address at which you choose a new one."
    button="Send me an e-mail"
    :enter="enter"
  >
    <Message v-if="sent" severity="success" role="status"
      >If somebody signs in with this address, an e-mail is on its way. It holds for an
      hour.</Message
    >
    <label for="email">E-mail address</label>
    <InputText id="email" v-model="email" type="email" autocomplete="username" required />
  </EntryForm>
</template>
