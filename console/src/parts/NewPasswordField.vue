<script setup lang="ts">
import { ref, useId } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";

/** A password that somebody chooses; whether it may be one, the service says. */
const password = defineModel<string>({ required: true });
const id = useId();
const shown = ref(false);
</script>

<template>
  <label :for="id">Password, twelve characters or more</label>
  <InputText
    :id="id"
    v-model="password"
    :type="shown ? 'text' : 'password'"
    autocomplete="new-password"
    :aria-describedby="`${id}-help`"
    required
  />
  <div>
    <Button
      :label="shown ? 'Hide it' : 'Show it'"
      variant="text"
      size="small"
      @click="shown = !shown"
    />
  </div>
  <small :id="`${id}-help`" class="soft"
    >Several words that have nothing to do with each other are good, and easy to remember.</small
  >
</template>
