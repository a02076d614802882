<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, onMounted, watch } from "vue";
import { RouterLink, RouterView, useRoute, useRouter } from "vue-router";
import Button from "primevue/button";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import FindBox from "@/frame/FindBox.vue";
import KeyMap from "@/frame/KeyMap.vue";
import NotificationBell from "@/frame/NotificationBell.vue";
import SideMenu from "@/frame/SideMenu.vue";
import AnnouncementBox from "@/frame/AnnouncementBox.vue";
import { session, signOut } from "@/session";
import { listenForKeys } from "@/use/keys";
import { live, useLive } from "@/use/live";

const route = useRoute();
const router = useRouter();
const LAST = "plumrake-site";
const { data: sites } = useQuery({
  queryKey: ["sites"],
  queryFn: () => data(api.GET("/api/v1/sites")),
  enabled: computed(() => Boolean(session.me)),
});
/** The site that is open: the one in the address, else the one that was open last. */
const site = computed(() => {
  const named =
    typeof route.params.site === "string" && route.params.site
      ? route.params.site
      : localStorage.getItem(LAST);
  const known = sites.value?.items ?? [];
  return (
    known.find((one) => one.slug === named)?.slug ??
    (route.params.site ? String(route.params.site) : known[0]?.slug)
  );
});
watch(site, (slug) => {
  if (slug) localStorage.setItem(LAST, slug);
});
const choices = computed(
  () => sites.value?.items.map((one) => ({ label: one.name, value: one.slug })) ?? [],
);
useLive(() =>
  session.me && sites.value?.items.some((one) => one.slug === site.value) ? site.value : undefined,
);

async function leave() {
  await signOut();
  await router.push({ name: "sign-in" });
}

watch(
  () => session.me,
  (me) => {
    if (me === null && !route.meta.open && route.matched.length)
      router.push({ name: "sign-in", query: { to: route.fullPath } });
  },
);
onMounted(listenForKeys);
</script>

<template>
  <a class="skip" href="#main">Skip to the content</a>
  <header class="top">
    <RouterLink class="brand" to="/" aria-label="Plum Rake, all sites"
      ><img src="/favicon.svg" alt="" width="28" height="28" />Plum Rake</RouterLink
    >
    <template v-if="session.me">
      <div v-if="choices.length > 1" class="switch">
        <span id="site-switch" class="only-aloud">Site</span
        ><Select
          :model-value="site"
          aria-labelledby="site-switch"
          :options="choices"
          option-label="label"
          option-value="value"
          @update:model-value="(slug) => router.push({ name: 'site', params: { site: slug } })"
        />
      </div>
      <FindBox v-if="site" :site="site" />
      <div class="who">
        <NotificationBell />
        <RouterLink :to="{ name: 'desk' }" active-class="here">My desk</RouterLink>
        <RouterLink :to="{ name: 'me' }" active-class="here">{{
          [session.me.name, session.me.role].filter(Boolean).join(", ")
        }}</RouterLink>
        <Button label="Sign out" size="small" variant="outlined" @click="leave" />
      </div>
    </template>
  </header>
  <p v-if="session.me && live.state === 'lost'" class="lost" role="alert">
    The connection to the service was lost. It is tried again; what you type is kept.
  </p>
  <div :class="['body', { wide: session.me && site }]">
    <SideMenu v-if="session.me && site" :site="site" />
    <main id="main" tabindex="-1"><RouterView /></main>
  </div>
  <AnnouncementBox />
  <KeyMap v-if="session.me" />
</template>

<style scoped>
.skip {
  position: absolute;
  left: -9999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 30;
  background: var(--paper);
  padding: 8px 14px;
}
.top {
  display: flex;
  align-items: center;
  gap: 8px 24px;
  flex-wrap: wrap;
  background: var(--paper);
  border-bottom: 1px solid var(--line);
  padding: 9px 20px;
  position: sticky;
  top: 0;
  z-index: 10;
}
.brand {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 18px;
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
}
.who {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
}
.who a.here {
  font-weight: 700;
}
.lost {
  margin: 0;
  padding: 8px 20px;
  background: var(--barrier);
  color: #fff;
  font-weight: 600;
}
.body.wide {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr);
}
main {
  max-width: 1400px;
  min-width: 0;
  padding: 22px 28px 70px;
  outline: none;
}
.body:not(.wide) main {
  margin: 0 auto;
}
@media (max-width: 1000px) {
  .body.wide {
    display: block;
  }
  main {
    padding: 14px 14px 60px;
  }
  .top {
    position: static;
    padding: 8px 14px;
  }
  .who {
    margin-left: 0;
  }
}
</style>
