<script setup lang="ts">
import { RouterLink } from "vue-router";
</script>

<template>
  <h1 tabindex="-1">There is nothing at this address</h1>
  <p>Perhaps the link was cut off when it was sent. <RouterLink to="/">All sites</RouterLink></p>
</template>
