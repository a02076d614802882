<script setup lang="ts">
import { watch } from "vue";
import { RouterLink, RouterView, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import { session, signOut } from "@/session";

const route = useRoute();
const router = useRouter();

async function leave() {
  await signOut();
  await router.push({ name: "sign-in" });
}

watch(() => session.me, (me) => {
  if (me === null && !route.meta.open && route.matched.length) router.push({ name: "sign-in", query: { to: route.fullPath } });
});
</script>

<template>
  <a class="skip" href="#main">Skip to the content</a>
  <header class="frame">
    <RouterLink class="brand" to="/"><img src="/favicon.svg" alt="" width="28" height="28">Plum Rake</RouterLink>
    <nav v-if="session.me && route.params.site" aria-label="Site">
      <RouterLink :to="{ name: 'site', params: { site: route.params.site } }" exact-active-class="here">Overview</RouterLink>
      <RouterLink :to="{ name: 'causes', params: { site: route.params.site } }" active-class="here">Causes</RouterLink>
      <RouterLink :to="{ name: 'fixes', params: { site: route.params.site } }" active-class="here">Fixes</RouterLink>
      <RouterLink :to="{ name: 'findings', params: { site: route.params.site } }" active-class="here">Findings</RouterLink>
      <RouterLink :to="{ name: 'decisions', params: { site: route.params.site } }" active-class="here">Decisions</RouterLink>
      <RouterLink :to="{ name: 'people', params: { site: route.params.site } }" active-class="here">People</RouterLink>
    </nav>
    <div v-if="session.me" class="who">
      <RouterLink :to="{ name: 'desk' }" active-class="here">My desk</RouterLink>
      <RouterLink :to="{ name: 'me' }">{{ session.me.name }}, {{ session.me.role }}</RouterLink>
      <Button label="Sign out" size="small" variant="outlined" @click="leave" />
    </div>
  </header>
  <main id="main" tabindex="-1"><RouterView /></main>
</template>

<style scoped>
.skip { position: absolute; left: -9999px; }
.skip:focus { left: 8px; top: 8px; z-index: 10; background: var(--paper); padding: 8px 14px; }
.frame { display: flex; align-items: center; gap: 8px 28px; flex-wrap: wrap; background: var(--paper); border-bottom: 1px solid var(--line); padding: 10px 28px; }
.brand { display: flex; align-items: center; gap: 10px; font-size: 18px; font-weight: 700; color: var(--ink); text-decoration: none; }
nav { display: flex; gap: 4px 20px; flex-wrap: wrap; }
nav a { text-decoration: none; color: var(--ink); padding: 4px 0; border-bottom: 3px solid transparent; }
nav a.here { border-color: var(--plum); font-weight: 600; }
.who a.here { font-weight: 700; } .who { margin-left: auto; display: flex; gap: 14px; align-items: center; }
main { max-width: 1360px; margin: 0 auto; padding: 24px 28px 60px; outline: none; }
</style>
