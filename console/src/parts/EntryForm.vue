<script setup lang="ts">
import { ref } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { says } from "@/format";

/** A form at the door: fields in the slot, one button, called as the form if nothing else is said;
 *  what goes wrong is said above them. */
const props = defineProps<{
  title: string;
  lead: string;
  button?: string;
  enter: () => Promise<unknown>;
}>();
const problem = ref("");
const busy = ref(false);

async function submit() {
  busy.value = true;
  problem.value = "";
  try {
    await props.enter();
  } catch (error) {
    problem.value = says(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="card" @submit.prevent="submit">
    <h1 tabindex="-1">{{ title }}</h1>
    <p class="soft">{{ lead }}</p>
    <Message v-if="problem" severity="error" role="alert">{{ problem }}</Message>
    <slot />
    <Button type="submit" :label="button ?? title" :loading="busy" class="enter" />
    <slot name="more" />
  </form>
</template>

<style scoped>
form {
  max-width: 420px;
  margin: 8vh auto 0;
  display: grid;
  gap: 8px;
}
form :deep(label) {
  font-weight: 600;
  margin-top: 8px;
}
.enter {
  margin-top: 16px;
}
</style>
