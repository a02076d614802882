<script setup lang="ts">
import { computed } from "vue";
import { useCheckHelp } from "@/use/checks";
import { RouterLink } from "vue-router";
import CheckHelp from "@/parts/CheckHelp.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";

const props = defineProps<{ site: string; check: string[] | string }>();
const id = computed(() => (Array.isArray(props.check) ? props.check.join("/") : props.check));
const { data: help } = useCheckHelp(() => id.value);
</script>

<template>
  <div class="stack">
    <CrumbTrail
      :site="site"
      :steps="[{ says: 'Policy', to: { name: 'policy', params: { site } } }, { says: id }]"
    />
    <h1 tabindex="-1">{{ help?.title ?? id }}</h1>
    <p>
      <RouterLink :to="{ name: 'causes', params: { site }, query: { check: id } }"
        >Causes of this check</RouterLink
      >
      ·
      <RouterLink :to="{ name: 'findings', params: { site }, query: { check: id } }"
        >its findings</RouterLink
      >
    </p>
    <CheckHelp :check="id" />
  </div>
</template>
