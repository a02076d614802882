<script setup lang="ts">
import Message from "primevue/message";
import Button from "primevue/button";
import { says } from "@/format";

defineProps<{ loading: boolean; error: unknown; what: string }>();
defineEmits<{ again: [] }>();
</script>

<template>
  <p v-if="loading" role="status" class="soft loading">Loading {{ what }} …</p>
  <Message v-else-if="error" severity="error" role="alert">
    {{ says(error) }}
    <Button label="Try again" size="small" variant="text" @click="$emit('again')" />
  </Message>
  <slot v-else />
</template>
