<script setup lang="ts">
import { useId } from "vue";
import InputText from "primevue/inputtext";

/** A password that somebody chooses; whether it may be one, the service says. */
const password = defineModel<string>({ required: true });
const id = useId();
</script>

<template>
  <label :for="id">Password, twelve characters or more</label>
  <InputText
    :id="id"
    v-model="password"
    type="password"
    autocomplete="new-password"
    minlength="12"
    :aria-describedby="`${id}-help`"
    required
  />
  <small :id="`${id}-help`" class="soft"
    >Several words that have nothing to do with each other are good, and easy to remember.</small
  >
</template>
